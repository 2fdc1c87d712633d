import { deliverableInForce, type ProjectDocument } from "@core/project/document";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { specNamed } from "@core/spec";
import type { Master, ProjectStanding, Source } from "@core/project/views";

export function standingOf(document: ProjectDocument, sources: Source[], masters: Master[]): ProjectStanding {
  const layouts = new Map(sources.map((source) => [source.hash, source.layout]));
  const done = new Map(masters.filter(({ state }) => state === "done").map((master) => [master.key, master]));
  let passed = 0;
  let failed = 0;
  for (const item of document.items) {
    const layout = layouts.get(item.source);
    if (!layout) continue;
    for (const deliverable of document.deliverables) {
      const verdict = done.get(masterKey(masterInputs(document, item, deliverable, layout)))?.result?.verdict;
      if (verdict?.pass) passed++;
      else if (verdict) failed++;
    }
  }
  const wanted = document.items.length * document.deliverables.length;
  const inForce = deliverableInForce(document);
  return {
    deliverable: inForce ? specNamed(inForce.spec).name : null,
    mastersWanted: wanted,
    mastersPassed: passed,
    mastersFailed: failed,
    standing: failed > 0 ? "outside" : wanted > 0 && passed === wanted ? "inside" : "unknown",
  };
}
