import * as z from "zod";
import { edit } from "@server/projects/projects";
import { body, route, uuidParam } from "../../../respond";

const edition = z.strictObject({
  /** Sent again with the same id, an edit is answered again and not made again. */
  id: z.uuid().optional(),
  base: z.number().int(),
  command: z.looseObject({ type: z.string() }),
});

/** Makes an edit on the state that it was made from; 409 where it contradicts one that came between. */
export const POST = route<{ project: string }>(async (request, params) => {
  const { id, base, command } = await body(request, edition);
  return edit(uuidParam.parse(params.project), { ...(id ? { id } : {}), base, command, author: "studio" });
});
