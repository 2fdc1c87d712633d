import * as z from "zod";
import { nameSchema, TEMPLATE_IDS } from "@core/project/document";
import { createProject, listProjects } from "@server/projects/projects";
import { predictedStanding } from "@server/rendering/predicted-standing";
import { factsOf } from "@server/rendering/project-facts";
import { inStudio, openableProjects } from "@server/people/access";
import { giveToCreator } from "@server/people/people";
import { isAbout, nameOf, visitor } from "@server/people/visitor";
import { body, heavyRoute, route } from "../respond";
import { projectStatusOf } from "@server/projects/project-status";

/** All projects, with where they stand. */
export const GET = heavyRoute(inStudio("guest", "read"), async () => {
  const projects = await listProjects(await openableProjects(visitor()));
  return Promise.all(
    projects.map(async ({ document, head, ...summary }) => {
      const facts = await factsOf({ id: summary.id, head, document });
      const predicted = summary.shelf === null ? await predictedStanding(summary.id, facts) : null;
      return { ...summary, standing: projectStatusOf(document, facts.sources, facts.masters, predicted) };
    }),
  );
});

const creation = z.strictObject({ name: nameSchema, template: z.enum(TEMPLATE_IDS) });

/** Makes a project from a template. */
export const POST = route(
  inStudio("assistant", "edit"),
  async (request) => {
    const { name, template } = await body(request, creation);
    const made = await createProject(name, template, nameOf(visitor()));
    await giveToCreator(visitor(), made.id);
    isAbout(name, made.id);
    return made;
  },
  "made a project",
);
