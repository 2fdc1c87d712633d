import { listActivity } from "@core/api/people";
import { inStudio } from "@server/people/access";
import { AUDIT_PAGE, auditTrail } from "@server/people/audit";
import { Page } from "@server/http/page";
import { route } from "../respond";

export const GET = route(listActivity, inStudio("owner", "manage"), async ({ query }) => {
  const entries = await auditTrail(query);
  return new Page(entries, entries.length < AUDIT_PAGE ? null : { before: entries.at(-1)!.id });
});
