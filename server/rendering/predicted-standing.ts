/** What is predicted of a project's masters, told in the background for the library and kept until something changes. */
import type { Curves } from "@core/measure";
import { columnOf } from "@core/project/board";
import { knownOf, type KnownOf } from "@core/project/known-items";
import { sha256Of } from "@core/math/sha256";
import { measuredLayout } from "@core/delivery/render-plan";
import { layoutNamed } from "@core/audio/layout";
import type { PredictedStanding, ProjectView } from "@core/project/views";
import { row, rows } from "../db/database";
import { publish } from "../db/notifications";
import type { JobContext } from "../queue/job-runner";
import { BACKGROUND, enqueue } from "../queue/queue";
import { projectFacts, type ProjectFacts } from "./project-facts";
import { curvesOf } from "./item-renders";

/** Seconds of a worker for each item. */
const COST = 0.2;

/** Changes whenever predictions may. */
const factsKey = ({ head, sources, itemFigures, overshoots, masters }: ProjectFacts): string =>
  sha256Of(
    JSON.stringify([
      head,
      sources.map(({ overview_hash: overview, layout }) => [overview, layout]),
      itemFigures.map(({ hash }) => hash),
      overshoots.map(({ hash, encoding, isExact }) => [hash, encoding, isExact]),
      masters.map(({ id, state }) => [id, state]),
    ]),
  );

/** What is predicted of a project as it is; where that is not known it is asked for, and `null`. */
export async function predictedStanding(project: string, facts: ProjectFacts): Promise<PredictedStanding | null> {
  const stored = await row<{ predicted: (PredictedStanding & { key: string }) | null }>(
    "select predicted from project where id = $1",
    [project],
  );
  if (stored?.predicted?.key === factsKey(facts)) {
    const { inside, outside } = stored.predicted;
    return { inside, outside };
  }
  const costSeconds = 1 + facts.document.items.length * COST;
  await enqueue({ queue: "standing", subject: project, project, costSeconds, priority: BACKGROUND });
  return null;
}

/** What the server knows; of specs that are measured on a fold-down only where nothing is folded. */
async function knownOnServer({ document, sources, itemFigures }: ProjectFacts): Promise<KnownOf> {
  const overviews = [...sources, ...itemFigures].flatMap(({ overview_hash: hash }) => hash ?? []);
  const curves = new Map<string, Curves>();
  for (const hash of new Set(overviews)) curves.set(hash, await curvesOf(hash));
  const known = knownOf({ document, sources, itemFigures }, curves);
  return (item, mix) => {
    const found = known(item, mix);
    if (!found) return null;
    const layout = layoutNamed(found.figures.layout);
    return {
      ...found,
      foldedOn: (measuredOn) => (layout && !measuredLayout(layout, { measuredOn }).fold ? {} : null),
    };
  };
}

/** The job: predicts every master that is not rendered as it is now. */
export async function predictStandingJob({ subject: project }: JobContext): Promise<void> {
  const facts = await projectFacts(project);
  const known = await knownOnServer(facts);
  const view: Pick<ProjectView, "document" | "sources" | "masters"> = facts;
  const predicted: PredictedStanding = { inside: 0, outside: 0 };
  for (const deliverable of facts.document.deliverables)
    for (const { verified, verdict, leftOut } of columnOf(view, deliverable, known)) {
      if (verified || !verdict || leftOut !== null) continue;
      predicted[verdict.pass ? "inside" : "outside"]++;
    }
  await rows("update project set predicted = $2 where id = $1", [
    project,
    JSON.stringify({ ...predicted, key: factsKey(facts) }),
  ]);
  await publish({ topic: "projects" });
}
