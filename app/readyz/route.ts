import { readiness } from "@server/operations/readiness";
import { anyone } from "@server/people/access";
import { plainRoute } from "../api/respond";

/** Whether work can be taken: the database answers, at this version's schema, and the disk has room. */
export const GET = plainRoute(anyone, async () => {
  const problems = await readiness();
  return Response.json({ ok: problems.length === 0, problems }, { status: problems.length === 0 ? 200 : 503 });
});
