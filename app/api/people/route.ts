import { beginAccounts as endpoint, listPeople as listEndpoint } from "@core/api/people";
import { inStudio } from "@server/people/access";
import { beginAccounts, listPeople } from "@server/people/people";
import { principal } from "@server/people/principal";
import { route } from "../respond";

export const GET = route(listEndpoint, inStudio("engineer", null), () => listPeople());

export const POST = route(endpoint, inStudio("owner", null), ({ body }) => beginAccounts(principal(), body));
