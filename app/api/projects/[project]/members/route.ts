import { listMembers, setMember as setEndpoint } from "@core/api/people";
import { both, inProject, inStudio } from "@server/people/access";
import { membersOf, setMember } from "@server/people/people";
import { principal } from "@server/people/principal";
import { route } from "../../../respond";

export const GET = route(listMembers, inProject("edit", null), ({ params }) => membersOf(params.project));

export const PUT = route(setEndpoint, both(inProject("edit", null), inStudio("engineer", null)), ({ params, body }) =>
  setMember(principal(), params.project, body.person, body.role),
);
