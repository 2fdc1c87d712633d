import * as z from "zod";
import { cancelMaster, prioritiseMaster } from "@server/rendering/masters";
import { body, route, uuidParam } from "../../respond";

/** Stops a master that waits or is under way. */
export const DELETE = route<{ master: string }>(async (_request, params) =>
  cancelMaster(uuidParam.parse(params.master)),
);

const moved = z.strictObject({ place: z.literal("first") });

/** Changes the place of a waiting master in the queue. */
export const POST = route<{ master: string }>(async (request, params) => {
  await body(request, moved);
  return prioritiseMaster(uuidParam.parse(params.master));
});
