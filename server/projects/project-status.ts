import { deliverableInForce, specOf, type ProjectDocument } from "@core/project/document";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { allSubjects } from "@core/project/subjects";
import {
  knownRecordings,
  type Master,
  type PredictedStanding,
  type ProjectStatus,
  type Source,
} from "@core/project/views";

export function projectStatusOf(
  document: ProjectDocument,
  sources: Source[],
  masters: Master[],
  predicted: PredictedStanding | null,
): ProjectStatus {
  const known = knownRecordings(sources);
  const done = new Map(masters.filter(({ state }) => state === "done").map((master) => [master.key, master]));
  let passed = 0;
  let failed = 0;
  const subjects = allSubjects(document);
  for (const { item, deliverable } of subjects) {
    const inputs = masterInputs(document, item, deliverable, known);
    const verdict = inputs && done.get(masterKey(inputs))?.result?.verdict;
    if (verdict?.pass) passed++;
    else if (verdict) failed++;
  }
  const wanted = subjects.length;
  const activeDeliverable = deliverableInForce(document);
  return {
    deliverable: activeDeliverable ? specOf(document, activeDeliverable.spec).name : null,
    mastersWanted: wanted,
    mastersPassed: passed,
    mastersFailed: failed,
    predicted,
    standing: failed > 0 ? "fail" : wanted > 0 && passed === wanted ? "pass" : "unknown",
  };
}
