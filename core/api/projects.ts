/** Projects: the library, their documents and their history. */
import * as z from "zod";
import { hashSchema, idSchema, nameSchema, TEMPLATE_IDS } from "../project/document";
import { historyStateSchema, projectSummarySchema, projectViewSchema, shelfSchema } from "../project/views";
import { presenceSchema } from "../people/presence";
import { content, endpoint } from "./endpoint";

const made = z.object({ id: z.string() });
const count = (words: string) => z.coerce.number<number | string>().int().positive().describe(words);
const editId = z.uuid().optional().describe("Sent again with the same id, it is answered again and not made again.");
const base = z.number().int().describe("The state that it was made on: “head” of the project.");

export const listProjects = endpoint(
  "GET",
  "/api/projects",
  "All projects, newest change first, with where they stand.",
  {
    query: z.strictObject({
      limit: count("So many at most, 1 to 500; all where nothing is said.").max(500).optional(),
      after: z.uuid().optional().describe("Only those that come after this one."),
    }),
    answer: z.array(projectSummarySchema),
    paged: true,
  },
);

export const createProject = endpoint("POST", "/api/projects", "Makes a project from a template.", {
  body: z.strictObject({ name: nameSchema, template: z.enum(TEMPLATE_IDS) }),
  answer: made,
});

export const importProject = endpoint(
  "POST",
  "/api/projects/import",
  "Makes a project of an exported one, with its history, recordings and masters.",
  {
    body: content("application/zip"),
    answer: made.extend({
      missing: z.array(z.string()).describe("Names of recordings that the file does not hold, nor the studio."),
    }),
  },
);

export const getProject = endpoint(
  "GET",
  "/api/projects/{project}",
  "A project as it is: document, recordings with their figures, masters, and what is under way.",
  { answer: projectViewSchema },
);

export const changeProject = endpoint(
  "PATCH",
  "/api/projects/{project}",
  "Renames a project, puts it away, or takes it out again.",
  {
    body: z.strictObject({
      name: nameSchema.optional(),
      shelf: shelfSchema.nullable().optional().describe("Null takes it out again."),
    }),
  },
);

export const removeProject = endpoint("DELETE", "/api/projects/{project}", "Removes a project in the bin for good.");

export const copyProject = endpoint("POST", "/api/projects/{project}/copy", "Makes a copy of a project as it is.", {
  answer: made,
});

export const exportProject = endpoint(
  "GET",
  "/api/projects/{project}/export",
  "The whole project as one zip file: document, history, recordings, masters and a manifest.",
  {
    query: z.strictObject({ recordings: z.enum(["with", "without"]).optional() }),
    answer: content("application/zip"),
  },
);

export const editProject = endpoint(
  "POST",
  "/api/projects/{project}/commands",
  "Makes an edit; what others edited meanwhile stays, unless it is about the same.",
  {
    body: z.strictObject({
      id: editId,
      base,
      command: z.looseObject({ type: z.string() }).meta({ id: "Command" }),
    }),
    answer: z.object({
      head: z.number().int(),
      rebased: z.boolean().describe("Whether it was put on top of edits that whoever made it had not seen."),
    }),
  },
);

const movement = { id: editId, base };

export const moveHead = endpoint("POST", "/api/projects/{project}/head", "Goes to another state: undo, redo, or any.", {
  body: z.discriminatedUnion("to", [
    z.strictObject({ ...movement, to: z.literal("undo") }),
    z.strictObject({ ...movement, to: z.literal("redo") }),
    z.strictObject({ ...movement, to: z.literal("state"), state: z.number().int() }),
  ]),
  answer: z.object({ head: z.number().int() }),
});

export const listHistory = endpoint(
  "GET",
  "/api/projects/{project}/history",
  "States of a project, a page at a time.",
  {
    query: z.strictObject({
      before: count("Only states before this one.").optional(),
      named: z.literal("yes").optional().describe("Only those that have a name."),
    }),
    answer: z.array(historyStateSchema),
    paged: true,
  },
);

export const nameState = endpoint("PATCH", "/api/projects/{project}/history", "Gives a state a name, or takes it.", {
  body: z.strictObject({ state: z.number().int(), name: nameSchema.nullable() }),
});

export const requestFigures = endpoint(
  "POST",
  "/api/projects/{project}/figures",
  "Asks that items be measured as they are after repairs, cuts and chain.",
  { body: z.strictObject({ items: z.array(idSchema).min(1).max(2000) }) },
);

export const keepPhoto = endpoint(
  "POST",
  "/api/projects/{project}/photos",
  "Keeps a picture for the project: of an outside device, or of a cover.",
  { body: content("image/jpeg", "image/png", "image/webp"), answer: z.object({ hash: hashSchema }) },
);

export const tellPresence = endpoint(
  "POST",
  "/api/projects/{project}/presence",
  "Tells the others in the project where one is.",
  { body: presenceSchema },
);
