import * as z from "zod";
import { cancelMaster, prioritiseMaster } from "@server/rendering/masters";
import { ofMaster } from "@server/people/access";
import { body, route, uuidParam } from "../../respond";

/** Stops a master that waits or is under way. */
export const DELETE = route<{ master: string }>(
  ofMaster("edit", "render"),
  async (_request, params) => cancelMaster(uuidParam.parse(params.master)),
  "stopped a master",
);

const moved = z.strictObject({ place: z.literal("first") });

/** Changes the place of a waiting master in the queue. */
export const POST = route<{ master: string }>(ofMaster("edit", "render"), async (request, params) => {
  await body(request, moved);
  return prioritiseMaster(uuidParam.parse(params.master));
});
