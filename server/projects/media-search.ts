/** Recordings and masters of all projects, looked for by words and by figures. */
import { isAnything, type MediaQuery } from "@core/project/media-query";
import type { FoundMaster, FoundRecording, MediaFound } from "@core/project/media-view";
import { rows } from "../db/database";

/** So many of each are told; more are narrowed down by whoever looks. */
export const MOST_FOUND = 100;

/** What is asked of a row as a condition, its values kept apart. */
class Conditions {
  readonly values: unknown[] = [];
  readonly #all: string[] = [];

  /** @param sql with “?” where the value stands */
  add(sql: string, value: unknown): void {
    this.values.push(value);
    this.#all.push(sql.replaceAll("?", `$${this.values.length}`));
  }

  addPlain(sql: string): void {
    this.#all.push(sql);
  }

  get sql(): string {
    return this.#all.length > 0 ? this.#all.join(" and ") : "true";
  }
}

/** As a pattern that means nothing but itself. */
const pattern = (word: string): string => `%${word.replace(/[\\%_]/g, "\\$&")}%`;

/** @param names expressions of which one holds a word; @param figures expression of the figures */
function asked({ words, conditions }: MediaQuery, names: readonly string[], figures: string): Conditions {
  const all = new Conditions();
  for (const word of words) all.add(`(${names.map((name) => `${name} ilike ?`).join(" or ")})`, pattern(word));
  // The names of figures are those of a list, never what was typed.
  for (const { figure, comparison, value } of conditions)
    all.add(`(${figures}->>'${figure}')::float8 ${comparison === "over" ? ">" : "<"} ?::float8`, value);
  return all;
}

function findRecordings(query: MediaQuery, projects: readonly string[] | null): Promise<FoundRecording[]> {
  const all = asked(query, ["s.name"], "s.figures");
  if (projects)
    all.add("exists (select 1 from project_blob p where p.hash = s.hash and p.project_id = any(?))", projects);
  return rows<FoundRecording>(
    `select s.hash, s.name, s.bytes, s.state, s.problem, s.encoding, s.figures, s.created_at,
       array(select p.project_id from project_blob p where p.hash = s.hash) as projects
     from source s where ${all.sql} order by s.created_at desc, s.hash limit ${MOST_FOUND + 1}`,
    all.values,
  );
}

const VERDICTS = { pass: "pass", fail: "not pass", none: "pass is null" } as const;

/** The latest of each item and deliverable; what was replaced by another is not among them. */
function findMasters(query: MediaQuery, projects: readonly string[] | null): Promise<FoundMaster[]> {
  const all = asked(query, ["title", "coalesce(spec, '')", "container"], "figures");
  if (projects) all.add("project_id = any(?)", projects);
  if (query.verdict) all.addPlain(VERDICTS[query.verdict]);
  return rows<FoundMaster>(
    `with latest as (
       select distinct on (project_id, item_id, deliverable_id) id, project_id, item_id, state, file_bytes, requested_at,
         inputs->'tags'->>'title' as title, inputs->'recipe'->'spec'->>'name' as spec,
         inputs->'recipe'->'format'->>'container' as container, result->'figures' as figures,
         case when state = 'done' then (result->'verdict'->>'pass')::boolean end as pass
       from master order by project_id, item_id, deliverable_id, requested_at desc)
     select * from latest where ${all.sql} order by requested_at desc, id limit ${MOST_FOUND + 1}`,
    all.values,
  );
}

/**
 * What fits a query; nothing where nothing is asked for. Of recordings there is no verdict: asked for one, they are left out.
 * @param projects only what is in these; `null` for all
 */
export async function searchMedia(query: MediaQuery, projects: readonly string[] | null = null): Promise<MediaFound> {
  if (isAnything(query)) return { recordings: [], masters: [], moreRecordings: false, moreMasters: false };
  const [recordings, masters] = await Promise.all([
    query.verdict === null ? findRecordings(query, projects) : [],
    findMasters(query, projects),
  ]);
  return {
    recordings: recordings
      .slice(0, MOST_FOUND)
      .map((found) => ({ ...found, projects: found.projects.filter((id) => projects?.includes(id) ?? true) })),
    masters: masters.slice(0, MOST_FOUND),
    moreRecordings: recordings.length > MOST_FOUND,
    moreMasters: masters.length > MOST_FOUND,
  };
}
