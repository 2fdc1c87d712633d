import { cancelPreparation as cancelEndpoint, prepareAgain as prepareEndpoint } from "@core/api/recordings";
import { ofContent } from "@server/people/access";
import { cancelPreparation, prepareAgain } from "@server/projects/sources";
import { route } from "../../../respond";

export const POST = route(prepareEndpoint, ofContent("edit", "edit"), ({ params }) => prepareAgain(params.hash));

export const DELETE = route(cancelEndpoint, ofContent("edit", "edit"), ({ params }) => cancelPreparation(params.hash));
