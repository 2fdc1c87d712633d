import { listMasters, requestMasters } from "@core/api/masters";
import { inProject } from "@server/people/access";
import { deliverAgain } from "@server/delivery/automatic-delivery";
import { wantedMasters } from "@server/delivery/wanted-masters";
import { requestMaster } from "@server/rendering/masters";
import { route } from "../../../respond";

export const GET = route(listMasters, inProject("listen", "read"), ({ params }) => wantedMasters(params.project));

export const POST = route(
  requestMasters,
  inProject("edit", "render"),
  async ({ params: { project }, body: { masters } }) => {
    const asked = [];
    for (const { item, deliverable } of masters) asked.push(await requestMaster(project, item, deliverable));
    await deliverAgain(project);
    return asked;
  },
  "asked for masters",
);
