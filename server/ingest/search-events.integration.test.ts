/** Recordings are looked through in the background, once, and make room for whatever somebody waits for. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { musicLike } from "@core/testing/degraded";
import { addRecording } from "../../tests/integration/recording";
import { migrate, row, rows, transaction } from "../db/database";
import { findSources, sourceOf } from "../projects/sources";
import { runJob } from "../queue/job-runner";
import { BACKGROUND, dropJob, enqueue, takeJob } from "../queue/queue";
import { enqueueMissingSearches, searchEventsFailed, searchEventsJob } from "./search-events";

const RATE = 48_000;
const never = new AbortController().signal;
const handler = { run: searchEventsJob, failed: searchEventsFailed };
const waiting = async () => (await rows<{ subject: string }>("select subject from job where queue = 'search'")).length;
const look = () => transaction(enqueueMissingSearches);

let hash: string;
beforeAll(async () => {
  await migrate();
  const tune = musicLike(6, RATE, 3).map((v) => 0.3 * v);
  for (let i = 0; i < 6; i++) tune[2 * RATE + i]! += i % 2 ? -0.7 : 0.7;
  hash = (await addRecording("Low Door.wav", [tune], RATE)).hash;
});
beforeEach(async () => {
  await rows("delete from job");
  await rows("update source set events = null, events_version = '-' where hash <> $1", [hash]);
  await rows("update source set events = null, events_version = null where hash = $1", [hash]);
});

describe("looking recordings through", () => {
  it("is asked for once, and what was found is told with the recording", async () => {
    await look();
    await look();
    expect(await waiting()).toBe(1);
    await runJob((await takeJob("w", false))!, handler, never);
    expect((await sourceOf(hash)).events).toMatchObject([{ kind: "clicks", count: 1 }]);
    await look();
    expect(await waiting()).toBe(0);
  });
  it("leaves the order in which recordings are told as it was: a page would take them for others", async () => {
    const others = [];
    for (let seed = 1; seed <= 3; seed++)
      others.push((await addRecording(`Other ${seed}.wav`, [musicLike(1, RATE, seed)], RATE)).hash);
    const asked = [others[2]!, hash, others[0]!, others[1]!];
    await look();
    await runJob((await takeJob("w", false))!, handler, never);
    expect((await findSources(asked)).map((source) => source.hash)).toEqual(asked);
  });
  it("is not tried again where it failed, and says of nothing that it is not there", async () => {
    await look();
    const job = (await takeJob("w", false))!;
    const failing = { ...handler, run: () => Promise.reject(new Error("The file is torn.")) };
    await runJob(job, failing, never);
    expect((await sourceOf(hash)).events).toBeNull();
    await look();
    expect(await waiting()).toBe(0);
  });
  it("comes after everything else, and is given back as soon as somebody waits", async () => {
    await enqueue({ queue: "search", subject: hash, project: null, costSeconds: 1, priority: BACKGROUND });
    await enqueue({ queue: "render", subject: "a", project: null, costSeconds: 1 });
    expect((await takeJob("w", false))!.subject).toBe("a");
    // While that is worked on, nothing takes the machine from it.
    expect(await takeJob("w", false)).toBeUndefined();
    await dropJob("render", "a");
    const job = (await takeJob("w", false))!;
    expect(job).toMatchObject({ queue: "search", priority: BACKGROUND });
    await enqueue({ queue: "render", subject: "b", project: null, costSeconds: 1 });
    let aborted = false;
    await runJob(
      job,
      {
        ...handler,
        run: async ({ signal }) => {
          await new Promise((resolve) => signal.addEventListener("abort", resolve));
          aborted = true;
          throw new Error("stopped");
        },
      },
      never,
    );
    expect(aborted).toBe(true);
    const back = await row("select lease, attempts from job where subject = $1", [hash]);
    expect(back).toMatchObject({ lease: null, attempts: 0 });
  });
});
