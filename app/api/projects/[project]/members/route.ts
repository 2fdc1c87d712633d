import * as z from "zod";
import { PROJECT_ROLES } from "@core/people/roles";
import { both, inProject, inStudio } from "@server/people/access";
import { membersOf, setMember } from "@server/people/people";
import { visitor } from "@server/people/visitor";
import { body, route, uuidParam } from "../../../respond";

/** Who was given a part in the project, beside those whose role in the studio gives it. */
export const GET = route<{ project: string }>(inProject("edit", null), async (_request, params) =>
  membersOf(uuidParam.parse(params.project)),
);

const membership = z.strictObject({ person: z.uuid(), role: z.enum(PROJECT_ROLES).nullable() });

/** Gives somebody a role in the project, or takes it away. */
export const PUT = route<{ project: string }>(
  both(inProject("edit", null), inStudio("engineer", null)),
  async (request, params) => {
    const { person, role } = await body(request, membership);
    await setMember(visitor(), uuidParam.parse(params.project), person, role);
  },
);
