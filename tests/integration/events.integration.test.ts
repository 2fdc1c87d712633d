/// <reference types="vite/types/importMeta.d.ts" />
/** The stream of events: told by rights, and ended with the session that opened it. */
import { beforeAll, describe, expect, it } from "vitest";
import { migrate } from "../../server/db/database";
import { publish } from "../../server/db/notifications";
import { changePerson } from "../../server/people/people";
import { createProject } from "../../server/projects/projects";
import { cookieOf, join, person, request } from "./people";

type Handler = (request: Request, context: { params: Promise<object> }) => Promise<Response>;
const routes = import.meta.glob<{ GET: Handler }>("../../app/api/events/route.ts", { eager: true });
const { GET } = Object.values(routes)[0]!;

beforeAll(migrate);

/** Reads a stream until it ends or has said `words`. */
async function readUntil(reader: ReadableStreamDefaultReader<Uint8Array>, words: string): Promise<string> {
  let text = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return `${text}(ended)`;
    text += Buffer.from(value).toString();
    if (text.includes(words)) return text;
  }
}

describe("events", () => {
  it("are those of one's own projects, and end when one is suspended", async () => {
    const [owner, guest] = [await person("Oriel", "owner"), await person("Wen", "guest")];
    const [{ id: own }, { id: other }] = [
      await createProject("Own", "music", "test"),
      await createProject("Other", "music", "test"),
    ];
    await join(guest, own, "listen");
    const asked = request("GET", "/api/events", { cookie: await cookieOf(guest) });
    const answer = await GET(asked, { params: Promise.resolve({}) });
    const reader = answer.body!.getReader();
    expect(await readUntil(reader, "hello")).toContain("hello");
    const heard = readUntil(reader, own);
    // The connection that listens may take a moment; what nobody heard is told again.
    const again = setInterval(() => {
      void publish({ topic: "project", project: other }).then(() => publish({ topic: "project", project: own }));
    }, 100);
    expect(await heard).not.toContain(other);
    clearInterval(again);
    const rest = readUntil(reader, "never said");
    await changePerson(owner, guest.person.id, { suspended: true });
    expect(await rest).toMatch(/\(ended\)$/);
    expect((await GET(asked, { params: Promise.resolve({}) })).status).toBe(401);
  });
});
