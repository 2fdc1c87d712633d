/** Every route and every role: who is let in, as a table that docs/access.md keeps, and that each route does look. */
import { beforeAll, describe, expect, it } from "vitest";
import { migrate, rows } from "../../server/db/database";
import { ENDPOINTS } from "@core/api";
import { byReviewLink } from "../../server/review/guests";
import { studioPrincipal, type Principal } from "../../server/people/principal";
import { createProject } from "../../server/projects/projects";
import { cookieOf, join, person, request, tokenOf } from "./people";
import { ROUTES, type Handler } from "./routes";

const HASH = "d".repeat(64);
/** What ROUTES ask for that know their guest by themselves. */
const BY_LINK = byReviewLink.words;
const UNKNOWN = "00000000-0000-4000-8000-000000000000";
/** Which people are asked for: by their role in the studio, or as guests by their part in the project. */
const COLUMNS = [
  "nobody",
  "stranger",
  "review",
  "listen",
  "edit",
  "assistant",
  "engineer",
  "owner",
  "read token",
] as const;
type Column = (typeof COLUMNS)[number];

const principals = new Map<Column, Principal | null>([["nobody", null]]);
const credentials = new Map<Column, Record<string, string>>([["nobody", {}]]);
let params: Record<string, unknown>;

beforeAll(async () => {
  await migrate();
  const { id: project } = await createProject("Tide", "music", "test");
  await rows("insert into project_blob values ($1, $2)", [project, HASH]);
  const [master] = await rows<{ id: string }>(
    "insert into master (project_id, item_id, deliverable_id, key, inputs) values ($1, 'i', 'd', 'k', '{}') returning id",
    [project],
  );
  const [review] = await rows<{ id: string }>(
    `insert into review (project_id, title, secret_hash, downloads, blind, created_by, expires_at)
     values ($1, 'Side A', 's', false, false, 'Oriel', now() + interval '1 day') returning id`,
    [project],
  );
  params = {
    project,
    review: review!.id,
    master: master!.id,
    hash: HASH,
    name: "x",
    worker: "w",
    position: "0",
    path: ["sign-out"],
  };
  for (const name of ["person", "invitation", "session", "token", "remark"]) params[name] = UNKNOWN;
  const owner = await person("Oriel", "owner");
  const people: Record<Exclude<Column, "nobody" | "read token">, Principal> = {
    owner,
    engineer: await person("Marl", "engineer"),
    assistant: await person("Alder", "assistant"),
    edit: await person("Rill", "guest"),
    listen: await person("Wen", "guest"),
    review: await person("Ines", "guest"),
    stranger: await person("Corin", "guest"),
  };
  for (const part of ["edit", "listen", "review"] as const) await join(people[part], project, part);
  for (const [column, who] of Object.entries(people) as [Column, Principal][]) {
    principals.set(column, who);
    credentials.set(column, { cookie: await cookieOf(who) });
  }
  principals.set("read token", { ...owner, scopes: ["read"], token: "night" });
  credentials.set("read token", { authorization: `Bearer ${await tokenOf(owner, ["read"])}` });
});

/** What is answered before anything is done: 200 stands for being let in. */
async function answer(handler: Handler, column: Column): Promise<number> {
  if (!handler.access) return 200; // healthz, which says nothing
  return handler.access.check(principals.get(column)!, params).then(
    () => 200,
    (error: { status: number }) => error.status,
  );
}

const WORDS: Record<number, string> = { 200: "yes", 401: "sign in", 403: "no", 404: "not there" };

describe("every route", () => {
  it("lets in whom docs/access.md says, and nobody else", async () => {
    const lines = [];
    for (const { address, method, handler } of ROUTES) {
      const answers = [];
      for (const column of COLUMNS) answers.push(WORDS[await answer(handler, column)] ?? "?");
      lines.push(`| \`${address}\` | ${method} | ${handler.access?.words ?? "anyone"} | ${answers.join(" | ")} |`);
    }
    const head = ["route", "method", "asks for", ...COLUMNS];
    const table = [`| ${head.join(" | ")} |`, `| ${head.map(() => "---").join(" | ")} |`, ...lines].join("\n");
    await expect(`${INTRODUCTION}\n${table}\n`).toMatchFileSnapshot("../../docs/access.md");
  });

  it("is closed to whoever is not signed in, but for those that are open to anyone, which are these", () => {
    const open = ROUTES.filter(({ handler }) => handler.access === undefined || handler.access.words === "anyone");
    expect([...new Set(open.map(({ address }) => address))]).toEqual([
      "/api/auth/[...path]",
      "/api/join",
      "/api/join/preview",
      "/api/openapi.json",
      "/api/review/open",
      "/api/review/preview",
      "/api/sign-in",
      "/api/status",
      "/healthz",
      "/readyz",
    ]);
  });

  it("tells a stranger nothing of a project, and a reader's token changes nothing", async () => {
    for (const { address, method, handler } of ROUTES) {
      if (/project|master|hash/.test(address.replace("/projects/import", "")) && /\[/.test(address))
        expect([address, await answer(handler, "stranger")]).toEqual([address, 404]);
      const isChange = method !== "GET" && method !== "HEAD" && !OPEN_TO_READERS.includes(address);
      if (isChange && !["anyone", BY_LINK].includes(handler.access.words))
        expect([address, method, await answer(handler, "read token")]).toEqual([address, method, 403]);
    }
  });

  it("looks before it does anything: whoever is not let in gets that answer from the route itself", async () => {
    for (const { address, method, handler } of ROUTES) {
      for (const column of COLUMNS) {
        const status = await answer(handler, column);
        if (status === 200) continue; // doing it is not what is tested here
        const body = method === "GET" || method === "HEAD" ? undefined : {};
        const path = address.replace(/\[+\.*(\w+)\]+/g, (_, name: string) => encodeURIComponent(String(params[name])));
        const asked = request(method, path, credentials.get(column), body);
        const given = await handler(asked, { params: Promise.resolve(params) });
        expect([address, method, column, given.status]).toEqual([address, method, column, status]);
      }
    }
  });

  it("of a review knows its guest by the cookie of that review, and nobody else, whoever they are", async () => {
    const ofReviews = ROUTES.filter(({ handler }) => handler.access?.words === BY_LINK);
    expect(ofReviews.length).toBeGreaterThan(6);
    for (const { address, method, handler } of ofReviews) {
      for (const column of ["nobody", "owner"] as const) {
        const body = method === "GET" ? undefined : {};
        const asked = request(method, "/api/review/x", credentials.get(column), body);
        const given = await handler(asked, { params: Promise.resolve(params) });
        expect([address, method, given.status]).toEqual([address, method, 403]);
      }
    }
  });

  it("belongs to whoever has the machine where there are no accounts", async () => {
    for (const { address, handler } of ROUTES) {
      if (!handler.access || handler.access === byReviewLink) continue;
      const done = handler.access.check(studioPrincipal("127.0.0.1"), params).then(
        () => "let in",
        (error: Error) => error.message,
      );
      expect([address, await done]).toEqual([address, "let in"]);
    }
  });

  it("answers the endpoint of its address and method, and every endpoint is answered", () => {
    const answered = ROUTES.flatMap(({ address, method, handler }) => {
      // HEAD is GET without its content; signing out, passkeys and uploads are answered by libraries.
      if (!handler.endpoint || method === "HEAD") return [];
      const path = address.replaceAll(/\[(\w+)\]/g, "{$1}");
      expect([method, path]).toEqual([handler.endpoint.method, handler.endpoint.path]);
      return [`${method} ${path}`];
    });
    expect(answered.sort()).toEqual(ENDPOINTS.map(({ endpoint }) => `${endpoint.method} ${endpoint.path}`).sort());
    const others = ROUTES.filter(({ handler }) => !handler.endpoint).map(({ address }) => address);
    expect([...new Set(others)]).toEqual([
      ...["/api/auth/[...path]", "/api/uploads/[[...path]]", "/healthz", "/metrics", "/readyz"],
    ]);
  });
});

/** What measures or asks without changing anything, by a method that has a body. */
const OPEN_TO_READERS = [
  ...["/api/measure", "/api/reports", "/api/projects/[project]/figures", "/api/projects/[project]/presence"],
];

const INTRODUCTION = `# Who may do what

Made by \`tests/integration/access-matrix.integration.test.ts\`, which asks every route as everybody; “npx vitest run --project
integration access-matrix -u” writes it anew. *stranger* is a guest without a part in the project; *review*, *listen* and *edit*
are guests with that part; *read token* is an owner's API token with the scope “read”. “not there” is 404: whoever has no part
in a project is not told that there is one. Uploads, beyond being signed in, ask for the part *edit* in their project
(\`server/ingest/uploads.ts\`), signing in and joining for what is sent; ROUTES of a review for the
cookie that its link gave, whoever asks.
`;
