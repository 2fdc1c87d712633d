import * as z from "zod";
import { STUDIO_ROLES } from "@core/people/roles";
import { inStudio } from "@server/people/access";
import { changePerson } from "@server/people/people";
import { visitor } from "@server/people/visitor";
import { body, route, uuidParam } from "../../respond";

const change = z.strictObject({ role: z.enum(STUDIO_ROLES).optional(), suspended: z.boolean().optional() });

/** Changes somebody's role, suspends them, or lets them in again. */
export const PATCH = route<{ person: string }>(inStudio("owner", null), async (request, params) =>
  changePerson(visitor(), uuidParam.parse(params.person), await body(request, change)),
);
