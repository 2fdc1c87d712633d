import { createProject as createEndpoint, listProjects as listEndpoint } from "@core/api/projects";
import { Page } from "@server/http/page";
import { inStudio, openableProjects } from "@server/people/access";
import { giveToCreator } from "@server/people/people";
import { nameOf, noteSubject, principal } from "@server/people/principal";
import { projectStatusOf } from "@server/projects/project-status";
import { createProject, listProjects } from "@server/projects/projects";
import { predictedStanding } from "@server/rendering/predicted-standing";
import { factsOf } from "@server/rendering/project-facts";
import { heavyRoute, route } from "../respond";

export const GET = heavyRoute(listEndpoint, inStudio("guest", "read"), async ({ query }) => {
  const { projects, next } = await listProjects(await openableProjects(principal()), query);
  const summaries = await Promise.all(
    projects.map(async ({ document, head, ...summary }) => {
      const facts = await factsOf({ id: summary.id, head, document });
      const predicted = summary.shelf === null ? await predictedStanding(summary.id, facts) : null;
      return { ...summary, standing: projectStatusOf(document, facts.sources, facts.masters, predicted) };
    }),
  );
  return new Page(summaries, next === null ? null : { after: next });
});

export const POST = route(
  createEndpoint,
  inStudio("assistant", "edit"),
  async ({ body: { name, template } }) => {
    const made = await createProject(name, template, nameOf(principal()));
    await giveToCreator(principal(), made.id);
    noteSubject(name, made.id);
    return made;
  },
  "made a project",
);
