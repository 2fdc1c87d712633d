/** Masters sent out for review, on the real PostgreSQL: rendered, heard by link, remarked upon, approved by their bytes. */
import { beforeAll, describe, expect, it } from "vitest";
import { approvalOf, approvalState } from "@core/review/approval";
import type { Approval } from "@core/review/views";
import { noise } from "@core/testing/signals";
import type { Master } from "@core/project/views";
import { addRecording } from "../../tests/integration/recording";
import { join, person, request } from "../../tests/integration/people";
import { migrate, pool, rows } from "../db/database";
import { deliveryOf, documentNamed } from "../delivery/documents";
import { ofReview, reviewableProjects } from "../people/access";
import { auditTrail } from "../people/audit";
import { studioPrincipal, type Principal } from "../people/principal";
import { createProject, edit, openProject } from "../projects/projects";
import { runJob } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { mastersOf, renderFailed, renderMasterJob, requestMaster } from "../rendering/masters";
import { blobs } from "../storage/blobs";
import { copyFailed, copyJob } from "./copies";
import {
  addRemark,
  decide,
  enterAsMember,
  enterReview,
  fileOfReview,
  guestOf,
  noteHeard,
  pageOfReview,
  previewReview,
  reviewsFor,
  withdrawRemark,
  type Guest,
} from "./guests";
import { approvalsOf, changeRemark, createReview, reviewsOf, withdrawReview, type NewReview } from "./reviews";

const HANDLERS = {
  render: { run: renderMasterJob, failed: renderFailed },
  copy: { run: copyJob, failed: copyFailed },
};
async function workOff(): Promise<void> {
  for (let job = await takeJob("test", false); job; job = await takeJob("test", false))
    await runJob(job, HANDLERS[job.queue as keyof typeof HANDLERS], new AbortController().signal);
}

const SECONDS = 4;
let project: string;
let masters: Master[];
let engineer: Principal;

beforeAll(async () => {
  await migrate();
  engineer = await person("Marl", "engineer");
  ({ id: project } = await createProject("Tide", "music", "Marl"));
  const { hash } = await addRecording(
    "Low Door.wav",
    [1, 2].map((seed) => noise(SECONDS, 48_000, -20, seed)),
    48_000,
  );
  const item = { id: "i1", name: "Low Door", source: hash, repairs: [], chain: [], markers: [] };
  const source = { hash, name: "Low Door.wav" };
  await edit(project, { base: null, command: { type: "addSource", source, item }, author: "Marl" });
  const { document } = await openProject(project);
  for (const { id } of document.deliverables.slice(0, 2)) await requestMaster(project, "i1", id);
  await workOff();
  masters = await mastersOf(project);
  expect(masters.map(({ state }) => state)).toEqual(["done", "done"]);
});

const given = (more: Partial<NewReview> = {}): NewReview => ({
  ...{ title: "Side A", message: "Mind the ending", masters: masters.map(({ id }) => id), days: 14 },
  ...{ password: null, downloads: false, blind: false },
  ...more,
});
const status = (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => "done",
    (error: { status?: number }) => error.status ?? error,
  );
const send = (more?: Partial<NewReview>) => createReview(engineer, project, given(more));

/** Somebody who opens a link, as their later requests are known. */
async function opened(secret: string, name = "Wen", password = ""): Promise<Guest> {
  const { id, cookie } = await enterReview({ secret, name, password }, "192.0.2.9");
  expect(cookie).toMatch(/HttpOnly; SameSite=Lax/);
  return guestOf(request("GET", "/", { cookie: cookie.split(";")[0]! }), id);
}

describe("a review", () => {
  it("is opened by its link under a name, and shows what was sent and no more", async () => {
    const { secret, id } = await send();
    expect(await previewReview(secret)).toEqual({ id, title: "Side A", from: "Marl", needsPassword: false });
    const page = await pageOfReview(await opened(secret));
    expect(page).toMatchObject({ title: "Side A", message: "Mind the ending", from: "Marl", name: "Wen" });
    expect(page.files.map(({ title, seconds }) => [title, Math.round(seconds)])).toEqual([
      ["Low Door", SECONDS],
      ["Low Door", SECONDS],
    ]);
    expect(page.files.every(({ outline }) => outline!.length > 10 && Math.max(...outline!) <= 1)).toBe(true);
    expect(JSON.stringify(page)).not.toContain(secret);
    const kept = await rows<{ text: string }>("select review::text as text from review");
    expect(kept.some(({ text }) => text.includes(secret))).toBe(false);
  });

  it("has copies of its files that play anywhere, drawn as they sound", async () => {
    const { secret } = await send();
    await workOff();
    const { files } = await pageOfReview(await opened(secret));
    for (const { has_copy: hasCopy, outline } of files) {
      expect(hasCopy).toBe(true);
      expect(outline).toHaveLength(800);
      // Noise to its end: no part of it is empty.
      expect(Math.min(...outline!)).toBeGreaterThan(0.02);
      expect(Math.max(...outline!)).toBeLessThanOrEqual(1);
    }
    const { copy_hash: copy } = await fileOfReview((await opened(secret)).review, 0);
    const file = await blobs.open(copy!);
    expect(Buffer.from(await file.read(0, 4)).toString()).toBe("OggS");
    await file.close();
  });

  it("asks for its password, lets nobody guess at it, and is not opened by another's cookie", async () => {
    const { secret, id } = await send({ password: "otter pond" });
    const other = await send();
    expect((await previewReview(secret)).needsPassword).toBe(true);
    const enter = (password: string) => status(enterReview({ secret, name: "Wen", password }, "198.51.100.7"));
    expect([await enter(""), await enter("wrong"), await enter("otter pond")]).toEqual([401, 401, "done"]);
    for (let i = 0; i < 5; i++) expect(await enter(`guess ${i}`)).toBe(401);
    expect(await enter("otter pond")).toBe(429);
    const { cookie } = await enterReview({ secret: other.secret, name: "Wen", password: "" }, null);
    const forged = cookie.split(";")[0]!.replace(other.id, id);
    expect(await status(guestOf(request("GET", "/", { cookie: forged }), id))).toBe(403);
    expect(await status(guestOf(request("GET", "/"), id))).toBe(403);
  });

  it("is closed by those who sent it, and by time; what was said stays", async () => {
    const { secret, id } = await send();
    const guest = await opened(secret);
    await addRemark(guest, { position: 0, at: 1, end: null, words: "a click" });
    expect(await status(withdrawReview((await createProject("Other", "music", "x")).id, id))).toBe(404);
    const { cookie } = await enterReview({ secret, name: "Ines", password: "" }, null);
    await withdrawReview(project, id);
    expect(await status(previewReview(secret))).toBe(410);
    expect(await status(guestOf(request("GET", "/", { cookie: cookie.split(";")[0]! }), id))).toBe(410);
    expect((await reviewsOf(project)).find((one) => one.id === id)!.remarks).toHaveLength(1);
    const late = await send();
    await rows("update review set expires_at = now() - interval '1 second' where id = $1", [late.id]);
    expect(await status(previewReview(late.secret))).toBe(410);
  });

  it("says why there is no copy of a file, which is heard itself", async () => {
    const { secret, id } = await send();
    await copyFailed(`${id} 0`, "The disk is full.", pool());
    const { files } = await pageOfReview(await opened(secret));
    expect(files.map(({ copy_problem: why }) => why)).toEqual(["The disk is full.", null]);
    await workOff();
  });

  it("is opened without its link by whoever has a part in the project, under their own name", async () => {
    const { id } = await send({ password: "otter pond" });
    const [reviewer, stranger] = [await person("Rill", "guest"), await person("Corin", "guest")];
    await join(reviewer, project, "review");
    const listed = async (who: Principal) => (await reviewsFor(await reviewableProjects(who))).map((one) => one.id);
    expect(await listed(reviewer)).toContain(id);
    expect(await listed(stranger)).toEqual([]);
    expect(await listed(engineer)).toContain(id);
    expect(await ofReview("review", null).check(reviewer, { review: id })).toBe(project);
    expect(await status(ofReview("review", null).check(stranger, { review: id }))).toBe(404);
    const { cookie } = await enterAsMember(id, reviewer);
    const guest = await guestOf(request("GET", "/", { cookie: cookie.split(";")[0]! }), id);
    expect((await pageOfReview(guest)).name).toBe("Rill");
    await withdrawReview(project, id);
    expect(await status(enterAsMember(id, reviewer))).toBe(410);
    expect(await listed(reviewer)).not.toContain(id);
  });

  it("is of finished masters of its own project alone", async () => {
    const { id: other } = await createProject("Other", "music", "x");
    expect(await status(createReview(engineer, other, given()))).toBe(404);
    const [waiting] = await rows<{ id: string }>(
      "insert into master (project_id, item_id, deliverable_id, key, inputs) select project_id, 'i9', deliverable_id, 'w', inputs from master where id = $1 returning id",
      [masters[0]!.id],
    );
    expect(await status(send({ masters: [waiting!.id] }))).toBe(409);
  });
});

describe("remarks", () => {
  it("stand at their time or range, are answered by the team, and taken back only by their own guest", async () => {
    const { secret, id } = await send();
    const [wen, ines] = [await opened(secret, "Wen"), await opened(secret, "Ines")];
    const words = `<script>alert("x")</script> '); drop table remark; --`;
    await addRemark(wen, { position: 0, at: 1.5, end: 2.5, words });
    await addRemark(ines, { position: 0, at: 0.5, end: null, words: "quieter here" });
    const { remarks } = await pageOfReview(wen);
    expect(remarks.map(({ name, at_seconds: at, own }) => [name, at, own])).toEqual([
      ["Ines", 0.5, false],
      ["Wen", 1.5, true],
    ]);
    expect(remarks[1]!.words).toBe(words);
    expect(await status(withdrawRemark(ines, remarks[1]!.id))).toBe(409);
    for (const wrong of [
      { position: 0, at: 99, end: null },
      { position: 0, at: 2, end: 1 },
      { position: 7, at: 0, end: null },
    ])
      expect([404, 422]).toContain(await status(addRemark(wen, { ...wrong, words: "x" })));
    const { id: other } = await createProject("Other", "music", "x");
    expect(await status(changeRemark(engineer, other, remarks[0]!.id, { answer: "no" }))).toBe(404);
    await changeRemark(engineer, project, remarks[0]!.id, { answer: "done, by 2 dB", resolved: true });
    const [answered] = (await pageOfReview(wen)).remarks;
    expect(answered).toMatchObject({ answer: "done, by 2 dB", answered_by: "Marl" });
    expect(answered!.resolved_at).not.toBeNull();
    expect(await status(withdrawRemark(ines, remarks[0]!.id))).toBe(409); // answered
    await withdrawRemark(wen, remarks[1]!.id);
    await changeRemark(engineer, project, remarks[0]!.id, { resolved: false });
    const seen = (await reviewsOf(project)).find((one) => one.id === id)!;
    expect(seen.remarks).toMatchObject([{ answer: "done, by 2 dB", resolved_at: null, own: false }]);
    expect((await auditTrail({ words: "Wen" })).map(({ action }) => action)).toContain("took a remark back");
  });
});

describe("an approval", () => {
  it("is of a file, stands in report and manifest, and says when the master is another file", async () => {
    const { secret } = await send();
    const guest = await opened(secret, "Wen");
    const { file_hash: hash } = await fileOfReview(guest.review, 0);
    const position = (await pageOfReview(guest)).files.find((one) => one.file_hash === hash)!.position;
    expect(await status(decide(guest, { position, hash: "0".repeat(64), approved: true, words: "" }))).toBe(409);
    await decide(guest, { position, hash, approved: false, words: "too loud" });
    await decide(guest, { position, hash, approved: true, words: "now it is right" });
    const of = (await mastersOf(project)).find((one) => one.file_hash === hash)!;
    const approval = approvalOf(await approvalsOf(project), "i1", of.deliverable_id)!;
    expect(approval).toMatchObject({ approved: true, name: "Wen", words: "now it is right" });
    expect(approvalState(approval, hash)).toBe("approved");
    expect(approvalState(approval, "f".repeat(64))).toBe("approved another file");
    expect(approvalState(approval, null)).toBe("approved another file");
    const delivery = await deliveryOf(project);
    const manifest = JSON.parse(String(await documentNamed(delivery, "Manifest.json").make())) as {
      masters: { sha256: string; decision?: object }[];
    };
    expect(manifest.masters.find((one) => one.sha256 === hash)!.decision).toMatchObject({ approved: true, by: "Wen" });
    expect(manifest.masters.filter((one) => one.sha256 !== hash).every((one) => !one.decision)).toBe(true);
  });

  it("is of one deliverable of an item, and of no other", async () => {
    const approvals = await approvalsOf(project);
    expect(approvals).toHaveLength(1);
    const [{ item_id: item, deliverable_id: approved }] = approvals as [Approval];
    const other = masters.find((one) => one.deliverable_id !== approved)!.deliverable_id;
    expect(approvalOf(approvals, item, approved)).toBe(approvals[0]);
    expect(approvalOf(approvals, item, other)).toBeUndefined();
    expect(approvalOf(approvals, "i2", approved)).toBeUndefined();
  });
});

describe("what was heard", () => {
  it("is kept by guest and file as ranges, whatever order it is told in, also twice at a time", async () => {
    const { secret, id } = await send();
    const guest = await opened(secret, "Wen");
    await Promise.all([
      noteHeard(guest, { position: 1, ranges: [[0, 1]], isNew: true }),
      noteHeard(guest, { position: 1, ranges: [[2, 3]], isNew: false }),
      noteHeard(guest, { position: 1, ranges: [[0.9, 2.1]], isNew: true }),
    ]);
    const [heard] = (await reviewsOf(project)).find((one) => one.id === id)!.heard;
    expect(heard).toMatchObject({ name: "Wen", position: 1, ranges: [[0, 3]], plays: 2 });
  });
});

describe("a studio without accounts", () => {
  it("sends reviews out by its own name", async () => {
    const { secret } = await createReview(studioPrincipal(null), project, given());
    expect((await previewReview(secret)).from).toBe("studio");
  });
});
