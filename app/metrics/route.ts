import { metricsText } from "@server/operations/metrics";
import { inStudio } from "@server/people/access";
import { plainRoute } from "../api/respond";

/** Figures for a monitoring system, in the text format of Prometheus. */
export const GET = plainRoute(inStudio("engineer", "manage"), async () => {
  const { text, type } = await metricsText();
  return new Response(text, { headers: { "Content-Type": type, "Cache-Control": "no-store" } });
});
