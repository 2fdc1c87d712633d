import { hashSchema } from "@core/project/document";
import { cancelPreparation, prepareAgain } from "@server/projects/sources";
import { ofContent } from "@server/people/access";
import { route } from "../../../respond";

/** Reads the original once more. */
export const POST = route<{ hash: string }>(ofContent("edit", "edit"), async (_request, params) =>
  prepareAgain(hashSchema.parse(params.hash)),
);

/** Stops reading it. */
export const DELETE = route<{ hash: string }>(ofContent("edit", "edit"), async (_request, params) =>
  cancelPreparation(hashSchema.parse(params.hash)),
);
