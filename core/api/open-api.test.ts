import { describe, expect, it } from "vitest";
import { COMMANDS } from "../project/commands";
import { ENDPOINTS } from "./index";
import { openApiDocument } from "./open-api";

type Json = Record<string, unknown>;
const document = openApiDocument("7") as {
  openapi: string;
  info: { version: string };
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, Json> };
};
interface Operation {
  operationId: string;
  summary: string;
  parameters?: { $ref?: string; name?: string; in?: string; required?: boolean }[];
  requestBody?: { content: Record<string, { schema: Json }> };
  responses: Record<string, Json>;
}
const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
  Object.entries(methods).map(([method, operation]) => ({ path, method, operation })),
);

/** All values under a name, however deep. */
function* valuesOf(value: unknown, name: string): Generator<unknown> {
  if (typeof value !== "object" || value === null) return;
  for (const [key, inside] of Object.entries(value)) {
    if (key === name) yield inside;
    yield* valuesOf(inside, name);
  }
}

const targetOf = (reference: string): unknown =>
  reference
    .slice(2)
    .split("/")
    .reduce((at, part) => (at as Json | undefined)?.[part], document as unknown);

describe("the OpenAPI description", () => {
  it("has every endpoint once, with a name of its own and a sentence", () => {
    expect(document.openapi).toBe("3.1.0");
    expect(document.info.version).toBe("7");
    expect(operations).toHaveLength(ENDPOINTS.length);
    expect(new Set(operations.map(({ operation }) => operation.operationId)).size).toBe(operations.length);
    for (const { operation } of operations) expect(operation.summary).toMatch(/^[A-Z].*\.$|^[A-Z].*\.”?$|”\.$/);
  });

  it("refers to nothing that is not there, and leaves none of the generator's own marks", () => {
    const references = [...valuesOf(document, "$ref")] as string[];
    expect(references.length).toBeGreaterThan(200);
    for (const reference of new Set(references)) expect([reference, targetOf(reference)]).not.toContain(undefined);
    expect([...valuesOf(document, "$defs")]).toEqual([]);
    expect([...valuesOf(document, "$schema")]).toEqual([]);
  });

  it("names every parameter of every address, and no other", () => {
    for (const { path, operation } of operations) {
      const named = (operation.parameters ?? []).filter((one) => one.in === "path").map(({ name }) => name);
      expect(named).toEqual([...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name));
    }
  });

  it("tells every command with its fields", () => {
    const schema = document.components.schemas.CommandInput!;
    const names = (schema.oneOf as Json[]).map((one) => {
      const whole = (one.$ref ? targetOf(one.$ref as string) : one) as { properties: { type: { const: string } } };
      return whole.properties.type.const;
    });
    expect(names).toEqual(Object.keys(COMMANDS));
    const { properties } = document.components.schemas.renameItemCommandInput as { properties: Json };
    expect(Object.keys(properties)).toEqual(["type", "item", "name"]);
  });

  it("says what an answer is: figures with their units, files by their types, nothing where there is nothing", () => {
    const { properties } = document.components.schemas.Figures as {
      properties: Record<string, { description: string }>;
    };
    expect(properties.integratedLufs!.description).toMatch(/LUFS/);
    const answer = (path: string, method: string) => document.paths[path]![method]!.responses;
    expect(answer("/api/projects/{project}/export", "get")[200]).toMatchObject({
      content: { "application/zip": { schema: { format: "binary" } } },
    });
    expect(answer("/api/projects/{project}", "delete")).toHaveProperty("204");
    expect(answer("/api/projects", "get")[200]).toHaveProperty("headers.Link");
  });

  it("asks for an idempotency key where one is kept: not where the answer has a secret", () => {
    const keyed = (path: string) =>
      document.paths[path]!.post!.parameters?.some(({ $ref }) => $ref?.endsWith("/IdempotencyKey")) ?? false;
    expect(keyed("/api/projects")).toBe(true);
    expect(keyed("/api/account/tokens")).toBe(false);
    expect(keyed("/api/projects/import")).toBe(false);
  });
});
