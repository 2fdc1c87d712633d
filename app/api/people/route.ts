import { inStudio } from "@server/people/access";
import { beginAccounts, listPeople } from "@server/people/people";
import { visitor } from "@server/people/visitor";
import { body, route } from "../respond";
import { acceptanceSchema } from "../schemas";

/** People of the studio. */
export const GET = route(inStudio("engineer", null), () => listPeople());

/** Gives a studio without accounts its owner. */
export const POST = route(inStudio("owner", null), async (request) =>
  beginAccounts(visitor(), await body(request, acceptanceSchema)),
);
