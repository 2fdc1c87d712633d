import * as z from "zod";
import { inStudio } from "@server/people/access";
import { auditTrail } from "@server/people/audit";
import { route } from "../respond";

const wanted = z.strictObject({
  before: z.coerce.number().int().positive().optional(),
  project: z.uuid().optional(),
  words: z.string().trim().max(200).optional(),
});

/** The audit trail, newest first, a page at a time: `?before=`, `?project=`, `?words=`. */
export const GET = route(inStudio("owner", "manage"), async (request) =>
  auditTrail(wanted.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
