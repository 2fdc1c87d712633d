import { describe, expect, it } from "vitest";
import { ApiClient, ApiProblem } from "./client";
import { addressOf } from "./address";

const ID = "5b0e3d4e-8f2a-4a67-9a3e-0d5b6f1c2a10";

/** A client whose requests are answered here, and what it sent. */
function answered(answer: () => Response | Promise<Response>, token?: string) {
  const sent: { url: string; init: RequestInit }[] = [];
  const fetch = (async (url: string, init: RequestInit) => {
    sent.push({ url, init });
    return answer();
  }) as typeof globalThis.fetch;
  return { sent, client: new ApiClient({ server: "https://studio.example", ...(token ? { token } : {}), fetch }) };
}

describe("the client", () => {
  it("sends method, address, token and JSON, and gives the answer", async () => {
    const { sent, client } = answered(() => Response.json({ id: ID }), "rs_1");
    const made = await client.call(
      "POST /api/projects",
      { body: { name: "Tide", template: "music" } },
      { idempotencyKey: "night-2026-12-01" },
    );
    expect(made.id).toBe(ID);
    expect(sent[0]!.url).toBe("https://studio.example/api/projects");
    expect(sent[0]!.init).toMatchObject({
      method: "POST",
      body: '{"name":"Tide","template":"music"}',
      headers: {
        Authorization: "Bearer rs_1",
        "Content-Type": "application/json",
        "Idempotency-Key": "night-2026-12-01",
      },
    });
  });

  it("puts parameters and queries into the address, whatever they hold", () => {
    expect(addressOf("/api/projects/{project}/documents/{name}", { project: ID, name: "a/b? ü.txt" })).toBe(
      `/api/projects/${ID}/documents/a%2Fb%3F%20%C3%BC.txt`,
    );
    const client = new ApiClient();
    expect(client.address("GET /api/masters/{master}/report", { params: { master: ID }, query: { kind: "pdf" } })).toBe(
      `/api/masters/${ID}/report?kind=pdf`,
    );
    expect(
      client.address("GET /api/review/{review}/files/{position}/sound", {
        params: { review: ID, position: 3 },
        query: {},
      }),
    ).toBe(`/api/review/${ID}/files/3/sound`);
    expect(client.address("GET /api/projects", { query: { limit: 50, after: undefined } })).toBe(
      "/api/projects?limit=50",
    );
  });

  it("answers nothing where there is nothing to say", async () => {
    const { client } = answered(() => new Response(null, { status: 204 }));
    expect(await client.call("DELETE /api/projects/{project}", { params: { project: ID } })).toBeUndefined();
  });

  it("makes problem documents errors, with when to ask again", async () => {
    const { client } = answered(
      () =>
        new Response('{"title":"Too many requests","detail":"Ask again in 7 s."}', {
          status: 429,
          headers: { "Retry-After": "7" },
        }),
    );
    const problem = (await client
      .call("GET /api/projects/{project}", { params: { project: ID } })
      .catch((error: unknown) => error)) as ApiProblem;
    expect(problem).toBeInstanceOf(ApiProblem);
    expect(problem).toMatchObject({
      status: 429,
      title: "Too many requests",
      message: "Ask again in 7 s.",
      retryAfter: 7,
    });
  });

  it("says so where nothing answers, or what answers is no problem document", async () => {
    const { client: unreachable } = answered(() => Promise.reject(new TypeError("fetch failed")));
    await expect(unreachable.call("GET /api/projects")).rejects.toMatchObject({ status: 0, title: "No connection" });
    const { client: proxy } = answered(() => new Response("<html>Bad gateway", { status: 502 }));
    await expect(proxy.call("GET /api/projects")).rejects.toMatchObject({
      status: 502,
      message: "The server answered 502.",
    });
  });

  it("leaves what was given up to whoever gave it up", async () => {
    const { client } = answered(() => Promise.reject(new DOMException("aborted", "AbortError")));
    const signal = AbortSignal.abort();
    await expect(client.call("GET /api/projects", {}, { signal })).rejects.toMatchObject({ name: "AbortError" });
  });
});
