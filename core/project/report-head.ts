/** Whose report it is and for whom: what a studio writes at the head of its papers. */
import * as z from "zod";
import { hashSchema } from "../parameters/identifiers";

/** Sizes of paper, in points. */
export const PAPERS = { A4: [595.28, 841.89], Letter: [612, 792] } as const;
export type Paper = keyof typeof PAPERS;

const line = z.string().trim().max(200).default("");

export const reportHeadSchema = z.strictObject({
  studio: line,
  /** Address, telephone: a few lines. */
  contact: z.string().trim().max(600).default(""),
  engineer: line,
  client: line,
  /** A picture of the studio's own, kept as a blob. */
  logo: hashSchema.optional(),
  paper: z.enum(Object.keys(PAPERS) as [Paper, ...Paper[]]).default("A4"),
});
export type ReportHead = z.infer<typeof reportHeadSchema>;

export const PLAIN_HEAD: ReportHead = reportHeadSchema.parse({});

const DAY = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric", timeZone: "UTC" });

/** A day as it stands on papers: "1 December 2026", UTC. */
export const dayWords = (date: Date): string => DAY.format(date);

/** What the next project of the same studio begins with: all but its client. */
export const headForNext = (head: ReportHead): ReportHead => ({ ...head, client: "" });
