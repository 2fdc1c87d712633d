/** Recordings: how they come in, what they are, and content by its hash. */
import * as z from "zod";
import { layoutSchema } from "../audio/layout";
import { verdictSchema } from "../delivery/compliance";
import { findingSchema } from "../findings/finding";
import { figuresSchema } from "../measure/figures-schema";
import { mediaFoundSchema } from "../project/media-view";
import { drawingsSchema } from "../report/drawings";
import { content, endpoint } from "./endpoint";

const upload = z.strictObject({ upload: z.uuid() });

export const takeArrived = endpoint(
  "POST",
  "/api/projects/{project}/uploads",
  "Takes in what had arrived while the project already held the same recording.",
  { body: upload },
);

export const discardUpload = endpoint(
  "DELETE",
  "/api/projects/{project}/uploads",
  "Discards an upload that was interrupted, or that is there already.",
  { body: upload },
);

export const getRecording = endpoint("GET", "/api/sources/{hash}", "The original, byte for byte, whole or in ranges.", {
  answer: content("application/octet-stream"),
});

export const chooseLayout = endpoint(
  "PUT",
  "/api/sources/{hash}/layout",
  "Sets which channel is which; the recording is measured again.",
  { body: z.strictObject({ layout: layoutSchema }) },
);

export const chooseTrack = endpoint(
  "PUT",
  "/api/sources/{hash}/track",
  "Chooses one of a file's sound tracks, from 0; the recording is read again.",
  { body: z.strictObject({ track: z.number().int().min(0).max(99) }) },
);

export const prepareAgain = endpoint("POST", "/api/sources/{hash}/prepare", "Reads the original once more.");
export const cancelPreparation = endpoint("DELETE", "/api/sources/{hash}/prepare", "Stops reading it.");

export const getPicture = endpoint(
  "GET",
  "/api/sources/{hash}/picture",
  "The recording as it came, where it has a picture: for showing that beside the sound.",
  { answer: content("video/mp4", "video/quicktime", "video/webm", "video/x-matroska") },
);

export const getPictureOffset = endpoint(
  "GET",
  "/api/sources/{hash}/picture/offset",
  "How long after the picture the sound begins.",
  { answer: z.object({ offsetSeconds: z.number() }) },
);

export const getBlob = endpoint("GET", "/api/blobs/{hash}", "Content by its hash, whole or in ranges.", {
  answer: content("application/octet-stream"),
});

export const getPhoto = endpoint("GET", "/api/photos/{hash}", "A picture that is kept.", {
  answer: content("image/jpeg", "image/png", "image/webp"),
});

export const searchMedia = endpoint(
  "GET",
  "/api/media",
  "Recordings and masters of all projects, by words and by figures: “true peak over −1”, “no verdict yet”.",
  {
    query: z.strictObject({ q: z.string().max(300, "at most 300 signs are read").default("") }),
    answer: mediaFoundSchema,
  },
);

export const measure = endpoint("POST", "/api/measure", "Measures a file that is not kept.", {
  body: content("application/octet-stream"),
  answer: z.object({ figures: figuresSchema, drawings: drawingsSchema, warnings: z.array(z.string()) }),
});

const reportEntrySchema = z.object({
  name: z.string().max(1000),
  problem: z.string().nullable(),
  figures: figuresSchema.nullable(),
  drawings: drawingsSchema.nullable(),
  verdict: verdictSchema.nullable(),
  findings: z.array(findingSchema).max(1000),
  warnings: z.array(z.string()),
});

export const makeReport = endpoint("POST", "/api/reports", "A report on recordings that were measured, as PDF.", {
  maxBytes: 64 * 2 ** 20,
  body: z.object({
    title: z.string().min(1).max(200),
    spec: z.string().nullable(),
    entries: z.array(reportEntrySchema).max(10_000),
  }),
  answer: content("application/pdf"),
});
