/** A database as an earlier version wrote it: all that was in it is there after the upgrade, state by state. */
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { gunzipSync } from "node:zlib";
import pg from "pg";
import { beforeAll, describe, expect, it } from "vitest";
import { openDocument } from "@core/project/document";
import { config } from "../config";
import { migrate, row, rows } from "./database";
import { documentAt } from "../projects/document-history";
import { edit, historyOf, listProjects, openProject } from "../projects/projects";

const stored = new Map<number, unknown>();

beforeAll(async () => {
  const dump = await readFile(join(process.cwd(), "tests/fixtures/database/2026-11-29.sql.gz"));
  const client = new pg.Client({ connectionString: config.databaseUrl });
  await client.connect();
  await client.query(gunzipSync(dump).toString("utf8"));
  const { rows: states } = await client.query<{ id: string; document: unknown }>(
    "select id, document from public.project_state",
  );
  for (const { id, document } of states) stored.set(Number(id), document);
  await client.end();
  await migrate();
});

describe("data of the version of 29 November 2026", () => {
  it("opens: every project, every state of it, as it was", async () => {
    const projects = (await listProjects()).projects;
    expect(projects.map(({ name }) => name).sort()).toEqual(
      expect.arrayContaining(["Low Water · film", "Orchard at Dusk"]),
    );
    expect(stored.size).toBeGreaterThan(20);
    for (const [state, document] of stored) expect(await documentAt(state)).toEqual(openDocument(document));
    for (const { id, states } of projects) expect(await historyOf(id)).toHaveLength(states);
  });
  it("counts what its rows and documents refer to", async () => {
    const sources = await rows<{ hash: string; pcm_hash: string }>("select hash, pcm_hash from source");
    expect(sources.length).toBeGreaterThan(3);
    for (const { hash, pcm_hash } of sources)
      for (const one of [hash, pcm_hash])
        expect(
          (await row<{ n: number }>("select reference_count as n from blob where hash = $1", [one]))!.n,
        ).toBeGreaterThan(0);
    expect(await row("select 1 from blob where reference_count <= 0")).toBeUndefined();
    const covers = await rows("select 1 from project_blob where hash not in (select hash from source)");
    expect(covers.length).toBeGreaterThan(0);
  });
  it("goes on being edited, and nothing of the old queue is left", async () => {
    const [project] = (await listProjects()).projects;
    const { head } = await openProject(project!.id);
    const { head: next } = await edit(project!.id, {
      ...{ base: head, author: "test" },
      command: { type: "rename", name: "Renamed since" },
    });
    expect((await documentAt(next)).name).toBe("Renamed since");
    expect(await row("select 1 from information_schema.schemata where schema_name = 'pgboss'")).toBeUndefined();
  });
});
