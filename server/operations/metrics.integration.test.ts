/** Figures for a monitoring system, and whether a studio can take work. */
import { beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { migrate, pool, rows } from "../db/database";
import { createProject } from "../projects/projects";
import { enqueue, takeJob } from "../queue/queue";
import { metricsText, noteRequest, routeOf } from "./metrics";
import { readiness } from "./readiness";

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
});
const valueOf = async (series: string): Promise<number> => {
  const { text } = await metricsText();
  const line = text.split("\n").find((one) => one.startsWith(`${series} `));
  return line === undefined ? NaN : Number(line.slice(series.length + 1));
};

describe("metrics", () => {
  it("count jobs by queue and state, and forget what is gone", async () => {
    for (const subject of ["a", "b", "c"]) await enqueue({ queue: "render", subject, project: null, costSeconds: 1 });
    await takeJob("w", false);
    expect(await valueOf('resonum_jobs{queue="render",state="waiting"}')).toBe(2);
    expect(await valueOf('resonum_jobs{queue="render",state="active"}')).toBe(1);
    await rows("delete from job");
    expect(await valueOf('resonum_jobs{queue="render",state="waiting"}')).toBeNaN();
  });

  it("tell how long somebody has waited, and leave out what nobody waits for", async () => {
    expect(await valueOf("resonum_job_seconds_waited")).toBe(0);
    await enqueue({ queue: "figures", subject: "quiet", project: null, costSeconds: 1, priority: -1 });
    await rows("update job set created_at = now() - interval '1 hour'");
    expect(await valueOf("resonum_job_seconds_waited")).toBe(0);
    await enqueue({ queue: "render", subject: "late", project: null, costSeconds: 1 });
    await rows("update job set created_at = now() - interval '90 seconds' where subject = 'late'");
    expect(await valueOf("resonum_job_seconds_waited")).toBeCloseTo(90, -1);
  });

  it("count projects by shelf, and the free bytes of the disk", async () => {
    const before = (await valueOf('resonum_projects{shelf="current"}')) || 0;
    await createProject("Ferry", "music", "test");
    expect(await valueOf('resonum_projects{shelf="current"}')).toBe(before + 1);
    expect(await valueOf('resonum_disk_free_bytes{disk="store"}')).toBeGreaterThan(0);
  });

  it("hold requests by what was asked for, not by whose it was", async () => {
    const project = "00000000-0000-4000-8000-000000000001";
    noteRequest("GET", `/api/projects/${project}`, 200, 0.03);
    noteRequest("GET", `/api/projects/${project.replace("1", "2")}`, 200, 0.3);
    noteRequest("GET", `/api/projects/${project}`, 421, 0.001);
    const labels = 'method="GET",route="/api/projects/:id"';
    expect(await valueOf(`resonum_request_seconds_count{${labels},status="200"}`)).toBe(2);
    expect(await valueOf(`resonum_request_seconds_bucket{le="0.05",${labels},status="200"}`)).toBe(1);
    expect(await valueOf('resonum_requests_refused_total{route="/api/projects/:id"}')).toBe(1);
  });

  it.each([
    ["/api/blobs/" + "a".repeat(64), "/api/blobs/:id"],
    ["/api/projects/00000000-0000-4000-8000-000000000001/history", "/api/projects/:id/history"],
    ["/a/b/c/d/e/f/g", "/a/b/c/d/e"],
    ["/metrics", "/metrics"],
  ])("name %s %s", (path, route) => {
    expect(routeOf(path)).toBe(route);
  });
});

describe("readiness", () => {
  it("is there where database and disk are", async () => {
    expect(await readiness()).toEqual([]);
  });
  it("says that the database is gone", async () => {
    const gone = Object.assign(new Error("connect ECONNREFUSED"), { code: "ECONNREFUSED" });
    const query = vi.spyOn(pool(), "query").mockRejectedValueOnce(gone as never);
    expect(await readiness()).toEqual([expect.stringMatching(/database does not answer/)]);
    query.mockRestore();
  });
});
