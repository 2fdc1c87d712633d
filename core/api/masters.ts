/** Masters: asked for, fetched, and handed over. */
import * as z from "zod";
import { idSchema } from "../project/document";
import { masterSchema, submissionSchema, wantedMasterSchema } from "../project/views";
import { content, endpoint } from "./endpoint";

export const listMasters = endpoint(
  "GET",
  "/api/projects/{project}/masters",
  "What the project is to be delivered as: each item in each deliverable, with its master as far as there is one.",
  { answer: z.array(wantedMasterSchema) },
);

export const requestMasters = endpoint("POST", "/api/projects/{project}/masters", "Asks for masters.", {
  body: z.strictObject({
    masters: z
      .array(z.strictObject({ item: idSchema, deliverable: idSchema }))
      .min(1)
      .max(2000),
  }),
  answer: z.array(masterSchema),
});

export const getMaster = endpoint("GET", "/api/masters/{master}", "A master: its state, figures and verdict.", {
  answer: masterSchema,
});

export const prioritiseMaster = endpoint(
  "POST",
  "/api/masters/{master}",
  "Changes the place of a waiting master in the queue.",
  { body: z.strictObject({ place: z.literal("first") }) },
);

export const cancelMaster = endpoint("DELETE", "/api/masters/{master}", "Stops a master that waits or is under way.");

export const getMasterFile = endpoint(
  "GET",
  "/api/masters/{master}/file",
  "The file of a finished master, whole or in ranges.",
  { answer: content("application/octet-stream") },
);

export const getMasterChannels = endpoint(
  "GET",
  "/api/masters/{master}/channels",
  "One mono file a channel, as a zip.",
  { answer: content("application/zip") },
);

export const getMasterReport = endpoint(
  "GET",
  "/api/masters/{master}/report",
  "The check report of a finished master.",
  {
    query: z.strictObject({ kind: z.enum(["html", "pdf"]).default("html") }),
    answer: content("text/html", "application/pdf"),
  },
);

export const getDelivery = endpoint(
  "GET",
  "/api/projects/{project}/delivery",
  "All finished masters with their documents, as a zip.",
  {
    query: z.strictObject({ deliverable: idSchema.optional().describe("Only those of this one.") }),
    answer: content("application/zip"),
  },
);

export const listDocuments = endpoint(
  "GET",
  "/api/projects/{project}/documents",
  "Documents of the delivery: checksums, manifest, cue sheet, reports.",
  { answer: z.array(z.object({ name: z.string(), mediaType: z.string() })) },
);

export const getDocument = endpoint("GET", "/api/projects/{project}/documents/{name}", "One of them.", {
  answer: content("application/octet-stream"),
});

export const listReceivers = endpoint("GET", "/api/receivers", "Where masters can be handed over to.", {
  answer: z.array(z.object({ id: z.string(), name: z.string(), help: z.string() })),
});

export const submitMasters = endpoint(
  "POST",
  "/api/projects/{project}/submissions",
  "Hands the finished masters of a deliverable over to a receiver.",
  { body: z.strictObject({ receiver: idSchema, deliverable: idSchema }), answer: submissionSchema },
);
