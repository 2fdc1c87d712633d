import { previewInvitation as endpoint } from "@core/api/account";
import { anyone } from "@server/people/access";
import { previewInvitation } from "@server/people/invitations";
import { route } from "../../respond";

export const POST = route(endpoint, anyone, ({ body }) => previewInvitation(body.secret));
