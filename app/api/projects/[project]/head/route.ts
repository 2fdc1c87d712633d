import * as z from "zod";
import { moveHead } from "@server/projects/projects";
import { inProject } from "@server/people/access";
import { body, route, uuidParam } from "../../../respond";

const given = { id: z.uuid().optional(), base: z.number().int() };
const movement = z.discriminatedUnion("to", [
  z.strictObject({ ...given, to: z.literal("undo") }),
  z.strictObject({ ...given, to: z.literal("redo") }),
  z.strictObject({ ...given, to: z.literal("state"), state: z.number().int() }),
]);

/** Goes to another state of the project: undo, redo, or any in its history. */
export const POST = route<{ project: string }>(
  inProject("edit", "edit"),
  async (request, params) => {
    const { id, base, ...move } = await body(request, movement);
    return moveHead(uuidParam.parse(params.project), base, move, id);
  },
  "went to another state",
);
