import { deliverableInForce, specOf, type ProjectDocument } from "@core/project/document";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { knownRecordings, type Master, type ProjectStatus, type Source } from "@core/project/views";

export function projectStatusOf(document: ProjectDocument, sources: Source[], masters: Master[]): ProjectStatus {
  const known = knownRecordings(sources);
  const done = new Map(masters.filter(({ state }) => state === "done").map((master) => [master.key, master]));
  let passed = 0;
  let failed = 0;
  for (const item of document.items) {
    for (const deliverable of document.deliverables) {
      const inputs = masterInputs(document, item, deliverable, known);
      const verdict = inputs && done.get(masterKey(inputs))?.result?.verdict;
      if (verdict?.pass) passed++;
      else if (verdict) failed++;
    }
  }
  const wanted = document.items.length * document.deliverables.length;
  const activeDeliverable = deliverableInForce(document);
  return {
    deliverable: activeDeliverable ? specOf(document, activeDeliverable.spec).name : null,
    mastersWanted: wanted,
    mastersPassed: passed,
    mastersFailed: failed,
    standing: failed > 0 ? "fail" : wanted > 0 && passed === wanted ? "pass" : "unknown",
  };
}
