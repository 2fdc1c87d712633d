import * as z from "zod";
import { nameSchema, TEMPLATE_IDS } from "@core/project/document";
import { createProject, listProjects } from "@server/projects/projects";
import { mastersOf } from "@server/rendering/masters";
import { findSources } from "@server/projects/sources";
import { body, heavyRoute, route } from "../respond";
import { projectStatusOf } from "@server/projects/project-status";

/** All projects, with where they stand. */
export const GET = heavyRoute(async () => {
  const projects = await listProjects();
  return Promise.all(
    projects.map(async ({ document, ...summary }) => {
      const sources = await findSources(document.sources.map(({ hash }) => hash));
      return { ...summary, standing: projectStatusOf(document, sources, await mastersOf(summary.id)) };
    }),
  );
});

const creation = z.strictObject({ name: nameSchema, template: z.enum(TEMPLATE_IDS) });

/** Makes a project from a template. */
export const POST = route(async (request) => {
  const { name, template } = await body(request, creation);
  return createProject(name, template, "studio");
});
