import { makeReport } from "@core/api/recordings";
import { specNamed } from "@core/delivery/specs";
import { dayWords } from "@core/project/report-head";
import { describeReport } from "@core/report/description";
import { config } from "@server/config";
import { pdfReport } from "@server/reports/report-pdf";
import { inStudio } from "@server/people/access";
import { heavyRoute } from "../respond";

export const POST = heavyRoute(makeReport, inStudio("guest", "read"), async ({ body: { title, spec, entries } }) => {
  const report = describeReport(entries, spec === null ? null : specNamed(spec), {
    title,
    date: dayWords(new Date()),
  });
  const pdf = await pdfReport(report, config.packagesFolder);
  return new Response(new Uint8Array(pdf), { headers: { "Content-Type": "application/pdf" } });
});
