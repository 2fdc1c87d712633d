/** What a project is to be delivered as: each item in each deliverable, with its master as far as there is one. */
import { deliveredSubjects } from "@core/project/delivery";
import { specOf } from "@core/project/document";
import { masterNames } from "@core/project/filename-pattern";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { knownRecordings, type Master, type WantedMaster } from "@core/project/views";
import { openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import { mastersOf } from "../rendering/masters";

/** In the order of the project. @throws Problem where there is no such project */
export async function wantedMasters(project: string): Promise<WantedMaster[]> {
  const { document } = await openProject(project);
  const [sources, masters] = await Promise.all([
    findSources(document.sources.map(({ hash }) => hash)),
    mastersOf(project),
  ]);
  const known = knownRecordings(sources);
  const cellOf = (item: string, deliverable: string) => `${item}/${deliverable}`;
  const names = new Map(
    masterNames(document).map(({ item, deliverable, name }) => [cellOf(item.id, deliverable.id), name]),
  );
  const made = new Map<string, Master[]>();
  for (const master of masters) {
    const cell = cellOf(master.item_id, master.deliverable_id);
    made.set(cell, [...(made.get(cell) ?? []), master]);
  }
  return deliveredSubjects(document).map(({ item, deliverable }) => {
    const cell = cellOf(item.id, deliverable.id);
    const inputs = masterInputs(document, item, deliverable, known);
    const key = inputs && masterKey(inputs);
    const ofCell = made.get(cell) ?? [];
    const current = ofCell.find((one) => one.key === key);
    return {
      item_id: item.id,
      item: item.name,
      deliverable_id: deliverable.id,
      deliverable: specOf(document, deliverable.spec).name,
      file_name: names.get(cell)!,
      ready: key !== null,
      master: current ?? ofCell[0] ?? null,
      current: current !== undefined,
    };
  });
}
