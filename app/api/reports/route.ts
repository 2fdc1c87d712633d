import * as z from "zod";
import { describeReport } from "@core/report/description";
import type { ReportEntry } from "@core/report/entry";
import { dayWords } from "@core/project/report-head";
import { specNamed } from "@core/delivery/specs";
import { config } from "@server/config";
import { pdfReport } from "@server/reports/report-pdf";
import { inStudio } from "@server/people/access";
import { body, heavyRoute } from "../respond";

const MAX_BYTES = 64 * 2 ** 20;

/** Entries come from the page's own table: their form is checked as far as the report relies on it. */
const requestSchema = z.object({
  title: z.string().min(1).max(200),
  spec: z.string().nullable(),
  entries: z
    .array(
      z.looseObject({
        name: z.string().max(1000),
        problem: z.string().nullable(),
        figures: z.looseObject({ durationSeconds: z.number(), sampleRate: z.number(), layout: z.string() }).nullable(),
        drawings: z
          .looseObject({
            seconds: z.number(),
            momentaryLufs: z.array(z.number().nullable()).max(5000),
            shortTermLufs: z.array(z.number().nullable()).max(5000),
            averageDbfs: z.array(z.number().nullable()).max(500),
            peakDbfs: z.array(z.number().nullable()).max(500),
            distribution: z.array(z.object({ lufs: z.number(), share: z.number() })).max(200),
          })
          .nullable(),
      }),
    )
    .max(10_000),
});

/** The table of many recordings as a PDF with their curves. */
export const POST = heavyRoute(inStudio("guest", "read"), async (request) => {
  const { title, spec, entries } = await body(request, requestSchema, MAX_BYTES);
  const report = describeReport(entries as unknown as ReportEntry[], spec === null ? null : specNamed(spec), {
    title,
    date: dayWords(new Date()),
  });
  const pdf = await pdfReport(report, config.packagesFolder);
  return new Response(new Uint8Array(pdf), { headers: { "Content-Type": "application/pdf" } });
});
