import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { historyOf, nameState, versionsOf } from "@server/projects/projects";
import { inProject } from "@server/people/access";
import { body, route, uuidParam } from "../../../respond";

const wanted = z.strictObject({
  /** Only states before this one. */
  before: z.coerce.number().int().positive().optional(),
  /** Only those that have a name. */
  named: z.literal("yes").optional(),
});

/** States of the project, newest first, a page at a time. */
export const GET = route<{ project: string }>(inProject("listen", "read"), async (request, params) => {
  const project = uuidParam.parse(params.project);
  const { before, named } = wanted.parse(Object.fromEntries(new URL(request.url).searchParams));
  return named ? versionsOf(project) : historyOf(project, before ?? null);
});

const naming = z.strictObject({ state: z.number().int(), name: nameSchema.nullable() });

/** Gives a state a name: a version. */
export const PATCH = route<{ project: string }>(
  inProject("edit", "edit"),
  async (request, params) => {
    const { state, name } = await body(request, naming);
    await nameState(uuidParam.parse(params.project), state, name);
  },
  "named a version",
);
