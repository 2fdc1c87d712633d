/** The API as programs use it: keys, pages, limits and refusals, on the routes themselves. */
import { createToken } from "@core/api/account";
import type { Endpoint } from "@core/api/endpoint";
import { listMasters } from "@core/api/masters";
import { getOpenApi } from "@core/api/operations";
import { listActivity } from "@core/api/people";
import { newFormat } from "@core/delivery/recipe";
import {
  createProject as createEndpoint,
  editProject,
  getProject,
  listHistory,
  listProjects,
} from "@core/api/projects";
import { beforeAll, describe, expect, it } from "vitest";
import { migrate, row, rows } from "../../server/db/database";
import type { Principal } from "../../server/people/principal";
import { REQUESTS_A_MINUTE } from "../../server/people/request-rates";
import { createProject, edit, HISTORY_PAGE } from "../../server/projects/projects";
import { cookieOf, person, request, tokenOf } from "./people";
import { handlerOf } from "./routes";

let owner: Principal;
let bearer: Record<string, string>;

beforeAll(async () => {
  await migrate();
  owner = await person("Oriel", "owner");
  bearer = { authorization: `Bearer ${await tokenOf(owner, ["read", "edit", "manage"])}` };
});

/** An address without parameters comes with none. */
const ask = (endpoint: Endpoint, asked: Request, params?: Record<string, string>) =>
  handlerOf(endpoint)(asked, { params: Promise.resolve(params) });
const projects = async () => (await row<{ count: number }>("select count(*)::int from project"))!.count;

describe("a program", () => {
  it("makes a project once, however often its request is sent with the same key", async () => {
    const before = await projects();
    const send = (name: string) =>
      ask(
        createEndpoint,
        request("POST", "/api/projects", { ...bearer, "idempotency-key": "batch-17-a" }, { name, template: "music" }),
      );
    const [first, again] = [await send("Tide"), await send("Tide")];
    expect(first.headers.get("idempotency-replayed")).toBeNull();
    expect(again.headers.get("idempotency-replayed")).toBe("true");
    expect(await again.json()).toEqual(await first.json());
    expect(await projects()).toBe(before + 1);
    expect((await send("Ebb")).status).toBe(422);
    const short = await ask(
      createEndpoint,
      request("POST", "/api/projects", { ...bearer, "idempotency-key": "x" }, {}),
    );
    expect(short.status).toBe(400);
  });

  it("keeps no answer that has a secret", async () => {
    const headers = { cookie: await cookieOf(owner), "idempotency-key": "token-of-the-night" };
    const make = () =>
      ask(createToken, request("POST", "/api/account/tokens", headers, { name: "n", scopes: ["read"], days: 1 }));
    const [first, second] = [
      (await (await make()).json()) as { token: string },
      (await (await make()).json()) as { token: string },
    ];
    expect(second.token).not.toBe(first.token);
    expect(await rows("select 1 from idempotency_record where key = 'token-of-the-night'")).toEqual([]);
  });

  it("without the scope to render does not have masters rendered by themselves", async () => {
    const { id: project, head } = await createProject("By hand", "music", "test");
    const add = (deliverable: object) => {
      const command = {
        type: "addDeliverable",
        deliverable: { id: "d9", spec: "ebu-r128", format: newFormat(), ...deliverable },
      };
      const path = `/api/projects/${project}/commands`;
      return ask(editProject, request("POST", path, bearer, { base: head, command }), { project });
    };
    const refused = await add({ automatic: { receiver: null } });
    expect([refused.status, ((await refused.json()) as { detail: string }).detail]).toEqual([
      403,
      expect.stringMatching(/render/),
    ]);
    expect((await add({})).status).toBe(200);
  });

  it("reads long lists page by page, each told by a link, and none twice", async () => {
    for (let i = 0; i < 7; i++) await createProject(`Paged ${i}`, "music", "test");
    const seen: string[] = [];
    let path: string | undefined = "/api/projects?limit=3";
    while (path) {
      const answer: Response = await ask(listProjects, request("GET", path, bearer));
      const page = (await answer.json()) as { id: string }[];
      expect(page.length).toBeLessThanOrEqual(3);
      seen.push(...page.map(({ id }) => id));
      path = /^<([^>]+)>; rel="next"$/.exec(answer.headers.get("link") ?? "")?.[1];
    }
    expect(seen).toHaveLength(await projects());
    expect(new Set(seen).size).toBe(seen.length);
    const whole = await ask(listProjects, request("GET", "/api/projects", bearer));
    expect(((await whole.json()) as { id: string }[]).map(({ id }) => id)).toEqual(seen);
    expect(whole.headers.get("link")).toBeNull();
    expect((await ask(listProjects, request("GET", "/api/projects?limit=0", bearer))).status).toBe(400);
    expect((await ask(listProjects, request("GET", "/api/projects?order=name", bearer))).status).toBe(400);
  });

  it("reads history and activity by the same links", async () => {
    const made = await createProject("Long", "music", "test");
    let { head } = made;
    for (let i = 0; i < HISTORY_PAGE; i++)
      head = (await edit(made.id, { base: head, command: { type: "rename", name: `Long ${i}` }, author: "test" })).head;
    const path = `/api/projects/${made.id}/history`;
    const first = await ask(listHistory, request("GET", path, bearer), { project: made.id });
    const states = (await first.json()) as { id: number }[];
    expect(first.headers.get("link")).toBe(`<${path}?before=${states.at(-1)!.id}>; rel="next"`);
    expect((await ask(listActivity, request("GET", "/api/activity", bearer))).headers.get("link")).toBeNull();
  });

  it("is told what a project is to be delivered as, before anything is rendered", async () => {
    const { id } = await createProject("Empty", "music", "test");
    const answer = await ask(listMasters, request("GET", `/api/projects/${id}/masters`, bearer), { project: id });
    expect(await answer.json()).toEqual([]);
  });

  it("is told what is wrong with what it sends, and where", async () => {
    const answer = await ask(
      createEndpoint,
      request("POST", "/api/projects", bearer, { name: "", template: "opera", more: 1 }),
    );
    expect(answer.status).toBe(400);
    const { errors } = (await answer.json()) as { errors: { where: string }[] };
    expect(errors.map(({ where }) => where).sort()).toEqual(["", "name", "template"]);
    expect((await ask(getProject, request("GET", "/api/projects/x", bearer), { project: "x" })).status).toBe(400);
  });

  it("is stopped where it runs away, and nobody else with it", async () => {
    const headers = { authorization: `Bearer ${await tokenOf(await person("Marl", "engineer"), ["read"])}` };
    const statuses = new Map<number, number>();
    let last: Response | undefined;
    for (let i = 0; i < REQUESTS_A_MINUTE.token + 20; i++) {
      last = await ask(getOpenApi, request("GET", "/api/openapi.json", headers));
      statuses.set(last.status, (statuses.get(last.status) ?? 0) + 1);
    }
    expect(statuses.get(200)).toBe(REQUESTS_A_MINUTE.token);
    expect(statuses.get(429)).toBe(20);
    expect(Number(last!.headers.get("retry-after"))).toBeGreaterThan(0);
    expect((await ask(getOpenApi, request("GET", "/api/openapi.json", bearer))).status).toBe(200);
  });
});
