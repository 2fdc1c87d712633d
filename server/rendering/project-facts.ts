/** A project's document with all that was measured of what is in it. */
import { wantedOvershoots, type MeasuredOvershoot } from "@core/project/wanted-overshoots";
import { knownRecordings, type ItemFigures, type Master, type Source } from "@core/project/views";
import { openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import { measuredOvershoots } from "./encoding-overshoots";
import { itemFiguresOf } from "./item-figures";
import { mastersOf } from "./masters";

export type ProjectFacts = Awaited<ReturnType<typeof openProject>> & {
  sources: Source[];
  masters: Master[];
  itemFigures: ItemFigures[];
  overshoots: MeasuredOvershoot[];
};

/** @throws Problem where there is none */
export async function projectFacts(id: string): Promise<ProjectFacts> {
  const project = await openProject(id);
  const sources = await findSources(project.document.sources.map(({ hash }) => hash));
  const [masters, itemFigures, overshoots] = await Promise.all([
    mastersOf(id),
    itemFiguresOf(project.document, sources),
    measuredOvershoots(wantedOvershoots(project.document, knownRecordings(sources))),
  ]);
  return { ...project, sources, masters, itemFigures, overshoots };
}
