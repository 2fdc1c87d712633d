import * as z from "zod";
import { moveHead } from "@server/projects";
import { body, route, uuidParam } from "../../../respond";

const base = z.number().int();
const movement = z.discriminatedUnion("to", [
  z.strictObject({ base, to: z.literal("undo") }),
  z.strictObject({ base, to: z.literal("redo") }),
  z.strictObject({ base, to: z.literal("state"), state: z.number().int() }),
]);

export const POST = route<{ project: string }>(async (request, params) => {
  const { base: on, ...move } = await body(request, movement);
  return moveHead(uuidParam.parse(params.project), on, move);
});
