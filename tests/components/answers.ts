/** A server for components: answers by method and path, and remembers what it was asked. */
import { vi } from "vitest";

export interface Asked {
  method: string;
  path: string;
  body: unknown;
}

/** Whoever sits at the machine of a studio without accounts. */
const ALONE: Record<string, unknown> = {
  "GET me": { person: null, role: "owner" },
  "GET reviews": [],
  "GET projects/00000000-0000-4000-8000-000000000001/comments": [],
};

/** @param answers by "GET projects"; a function is called with what was sent, an Error becomes a problem document */
export function answering(answers: Record<string, unknown>): Asked[] {
  const asked: Asked[] = [];
  vi.stubGlobal("fetch", async (input: string, init: RequestInit = {}) => {
    const path = input.replace(/^.*\/api\//, "");
    const method = init.method ?? "GET";
    const body = typeof init.body === "string" ? (JSON.parse(init.body) as unknown) : undefined;
    asked.push({ method, path, body });
    const answer = answers[`${method} ${path}`] ?? ALONE[`${method} ${path}`];
    const value = typeof answer === "function" ? (answer as (body: unknown) => unknown)(body) : answer;
    if (value instanceof Error)
      return new Response(JSON.stringify({ title: value.message, detail: value.message }), {
        status: 422,
        headers: { "content-type": "application/problem+json" },
      });
    return new Response(JSON.stringify(value ?? {}), { headers: { "content-type": "application/json" } });
  });
  return asked;
}
