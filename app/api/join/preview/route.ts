import * as z from "zod";
import { anyone } from "@server/people/access";
import { previewInvitation } from "@server/people/invitations";
import { body, route } from "../../respond";
import { secretSchema } from "../../schemas";

/** Where a link leads, without following it. Its secret stands in the body: addresses are kept in too many places. */
export const POST = route(anyone, async (request) =>
  previewInvitation((await body(request, z.strictObject({ secret: secretSchema }))).secret),
);
