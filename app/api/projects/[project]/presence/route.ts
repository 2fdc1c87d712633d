import { tellPresence } from "@core/api/projects";
import { publish } from "@server/db/notifications";
import { inProject } from "@server/people/access";
import { nameOf, principal } from "@server/people/principal";
import { route } from "../../../respond";

export const POST = route(tellPresence, inProject("listen", "read"), ({ params: { project }, body }) =>
  publish({ topic: "presence", project, presence: { ...body, name: nameOf(principal()) } }),
);
