/** Comments among the team on the real PostgreSQL: who writes, answers, resolves and removes them. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { threadsOf, type NewComment } from "@core/project/comment";
import { person } from "../../tests/integration/people";
import { migrate } from "../db/database";
import { createProject, edit } from "../projects/projects";
import { addComment, commentsOf, removeComment, resolveComment } from "./comments";
import { studioPrincipal, type Principal } from "./principal";

let owner: Principal;
let engineer: Principal;
let assistant: Principal;
let project: string;

beforeAll(async () => {
  await migrate();
  owner = await person("Oriel", "owner");
  engineer = await person("Marl", "engineer");
  assistant = await person("Wen", "assistant");
});
beforeEach(async () => {
  const made = await createProject("Tide", "music", "test");
  project = made.id;
  const hash = "c".repeat(64);
  const item = { id: "i1", name: "Reed", source: hash, repairs: [], chain: [], markers: [] };
  const command = { type: "addSource", source: { hash, name: "Reed.wav" }, item };
  await edit(project, { base: made.head, command, author: "test" });
});

const about = (words: string, more: Partial<NewComment> = {}): NewComment => ({
  ...{ item: "i1", start: 4800, end: null, words, thread: null },
  ...more,
});
const refusal = (work: Promise<unknown>) =>
  work.then(
    () => null,
    ({ status, detail }: { status: number; detail: string }) => ({ status, detail }),
  );

describe("comments of the team", () => {
  it("are a thread with its answers, each by its name, one's own told apart", async () => {
    const { id } = await addComment(engineer, project, about("Is the breath wanted?"));
    await addComment(assistant, project, about("It is in the score.", { thread: id, start: null }));
    const threads = threadsOf(await commentsOf(assistant, project));
    expect(threads).toMatchObject([
      { name: "Marl", own: false, start: 4800, end: null, words: "Is the breath wanted?", resolved_at: null },
    ]);
    expect(threads[0]!.answers).toMatchObject([{ name: "Wen", own: true, thread: id }]);
    const other = await createProject("Ebb", "music", "test");
    expect(await commentsOf(engineer, other.id)).toEqual([]);
  });

  it("are resolved by whoever sees to them, and opened again; answers are not by themselves", async () => {
    const { id } = await addComment(engineer, project, about("Click here", { end: 9600 }));
    const answer = await addComment(owner, project, about("Gone", { thread: id }));
    await resolveComment(assistant, project, id, true);
    const [resolved] = await commentsOf(engineer, project);
    expect(resolved).toMatchObject({ resolved_by: "Wen", resolved_at: expect.anything(), end: 9600 });
    await resolveComment(engineer, project, id, false);
    expect((await commentsOf(engineer, project))[0]).toMatchObject({ resolved_by: null, resolved_at: null });
    expect(await refusal(resolveComment(owner, project, answer.id, true))).toMatchObject({ status: 404 });
  });

  it("are removed by whoever wrote them, or an owner, unless somebody else has answered", async () => {
    const { id } = await addComment(engineer, project, about("One"));
    const answer = await addComment(assistant, project, about("Two", { thread: id }));
    expect(await refusal(removeComment(assistant, project, id))).toEqual({
      status: 403,
      detail: expect.stringMatching(/somebody else's/),
    });
    for (const by of [engineer, owner])
      expect(await refusal(removeComment(by, project, id))).toMatchObject({ status: 409 });
    await removeComment(assistant, project, answer.id);
    await addComment(engineer, project, about("To myself", { thread: id }));
    await removeComment(engineer, project, id);
    expect(await commentsOf(owner, project)).toEqual([]);
    const again = await addComment(engineer, project, about("Three"));
    await removeComment(owner, project, again.id);
    expect(await commentsOf(owner, project)).toEqual([]);
  });

  it("stay where the item is gone, and are the studio's own where there are no accounts", async () => {
    const studio = studioPrincipal(null);
    await addComment(studio, project, about("Kept", { start: null }));
    await edit(project, { base: null, command: { type: "removeItem", item: "i1" }, author: "test" });
    expect(await commentsOf(studio, project)).toMatchObject([{ name: "studio", own: true, start: null }]);
  });

  it("are refused with the reason where they are about nothing", async () => {
    const { id } = await addComment(engineer, project, about("One"));
    const answer = await addComment(engineer, project, about("Two", { thread: id }));
    const other = await createProject("Ebb", "music", "test");
    for (const [where, comment, status] of [
      [project, about("x", { item: "gone" }), 404],
      [project, about("x", { end: 4800 }), 422],
      [project, about("x", { start: null, end: 10 }), 422],
      [project, about("x", { thread: answer.id }), 422],
      [other.id, about("x", { thread: id }), 404],
    ] as const)
      expect(await refusal(addComment(engineer, where, comment))).toMatchObject({ status });
    expect(await refusal(removeComment(owner, other.id, id))).toMatchObject({ status: 404 });
  });
});
