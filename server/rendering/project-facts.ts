/** A project's document with all that was measured of what is in it. */
import type { ProjectDocument } from "@core/project/document";
import { wantedOvershoots, type MeasuredOvershoot } from "@core/project/wanted-overshoots";
import { knownRecordings, type ItemFigures, type Master, type Source } from "@core/project/views";
import { openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import { measuredOvershoots } from "./encoding-overshoots";
import { itemFiguresOf } from "./item-figures";
import { mastersOf } from "./masters";

/** A project as it is. */
interface OpenedProject {
  id: string;
  head: number;
  document: ProjectDocument;
}

export interface MeasuredFacts {
  sources: Source[];
  masters: Master[];
  itemFigures: ItemFigures[];
  overshoots: MeasuredOvershoot[];
}
export type ProjectFacts = OpenedProject & MeasuredFacts;

export async function factsOf<Project extends OpenedProject>(project: Project): Promise<Project & MeasuredFacts> {
  const { id, document } = project;
  const sources = await findSources(document.sources.map(({ hash }) => hash));
  const [masters, itemFigures, overshoots] = await Promise.all([
    mastersOf(id),
    itemFiguresOf(document, sources),
    measuredOvershoots(wantedOvershoots(document, knownRecordings(sources))),
  ]);
  return { ...project, sources, masters, itemFigures, overshoots };
}

/** @throws Problem where there is none */
export const projectFacts = async (id: string) => factsOf(await openProject(id));
