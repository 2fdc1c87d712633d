/** How long an edit takes on the server when a project has very many states. */
import { newChainEntry } from "@core/processors";
import { edit, json, newProject, upload, viewOf } from "./client";
import { connected, pause, Studio } from "./studio";
import { wavOf } from "./wav";

export interface StatesReport {
  states: number;
  /** Milliseconds from sending an edit to its answer. */
  edits: number[];
  opens: number[];
}

const TRIES = 60;

export async function statesTest(count: number): Promise<StatesReport> {
  const studio = new Studio();
  await studio.start(true);
  const project = await newProject("Years");
  await upload(project, "One.wav", await wavOf(1), 1);
  while ((await viewOf(project)).sources[0]?.state !== "ready") await pause(200);
  const item = (await viewOf(project)).document.items[0]!.id;
  const chain = ["equaliser", "compressor", "gain", "limiter"].map((type, n) => newChainEntry(type, `p${n}`));
  await edit(project, { type: "setChain", items: [item], chain, prefix: "p" });
  await addStates(project, count);
  const edits: number[] = [];
  const opens: number[] = [];
  let { head } = await viewOf(project);
  for (let n = 0; n < TRIES; n++) {
    const command = { type: "setParameter", item, entry: "p-0-2", parameter: "gainDb", setting: -n / 10 };
    let began = performance.now();
    ({ head } = await json<{ head: number }>(`projects/${project}/commands`, { base: head, command }));
    edits.push(performance.now() - began);
    began = performance.now();
    await viewOf(project);
    opens.push(performance.now() - began);
  }
  const { states } = await viewOf(project);
  await studio.stop();
  return { states, edits, opens };
}

/** States as edits make them: patches one on the other, each 64th whole. */
async function addStates(project: string, count: number): Promise<void> {
  const database = await connected();
  const { head, document } = await viewOf(project);
  await database.query(
    `with base as (select nextval(pg_get_serial_sequence('project_state', 'id')) as first)
     insert into project_state (id, project_id, parent, label, author, command, patch, patches, document)
       overriding system value
     select first + n, $1, case when n = 1 then $2 else first + n - 1 end, 'Rename the project', 'bench',
       '{"type":"rename","name":"Years"}', case when n % 64 = 0 then null else '[{"op":"replace","path":"/name","value":"Years"}]'::jsonb end,
       n % 64, case when n % 64 = 0 then $3::jsonb end
     from base, generate_series(1, $4::int) as n`,
    [project, head, JSON.stringify(document), count],
  );
  await database.query(
    "select setval(pg_get_serial_sequence('project_state', 'id'), (select max(id) from project_state))",
  );
  await database.query(
    "update project set head = (select max(id) from project_state where project_id = $1), states = states + $2 where id = $1",
    [project, count],
  );
  await database.query("analyze project_state");
  await database.end();
}
