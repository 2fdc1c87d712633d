/** Recordings and masters of all projects, as the server tells of them where they are looked for. */
import * as z from "zod";
import { instantSchema } from "../audio/instant";
import { figuresSchema } from "../measure/figures-schema";
import { masterSchema, sourceSchema } from "./views";

const foundRecordingSchema = sourceSchema
  .pick({ hash: true, name: true, bytes: true, state: true, problem: true, encoding: true, figures: true })
  .extend({ projects: z.array(z.string()).describe("Ids of projects that it is in."), created_at: instantSchema });
export type FoundRecording = z.infer<typeof foundRecordingSchema>;

/** The latest master of an item and a deliverable. */
const foundMasterSchema = masterSchema
  .pick({ id: true, project_id: true, item_id: true, state: true, file_bytes: true })
  .extend({
    title: z.string(),
    spec: z.string().nullable().describe("Name of its specification; null where it has none."),
    container: z.string(),
    figures: figuresSchema.nullable(),
    pass: z
      .boolean()
      .nullable()
      .describe("Whether the file is inside its specification; null where that is not known."),
    requested_at: instantSchema,
  });
export type FoundMaster = z.infer<typeof foundMasterSchema>;

export const mediaFoundSchema = z.object({
  recordings: z.array(foundRecordingSchema),
  masters: z.array(foundMasterSchema),
  moreRecordings: z.boolean().describe("Whether there are more than are told."),
  moreMasters: z.boolean(),
});
export type MediaFound = z.infer<typeof mediaFoundSchema>;
