/** What the page reads of an OpenAPI description. */

export interface Schema {
  $ref?: string;
  type?: string | string[];
  const?: unknown;
  enum?: unknown[];
  description?: string;
  format?: string;
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  oneOf?: Schema[];
  anyOf?: Schema[];
  additionalProperties?: Schema | boolean;
}

interface Content {
  content?: Record<string, { schema: Schema }>;
}

export interface Operation {
  operationId: string;
  tags: string[];
  summary: string;
  parameters?: { $ref?: string; name?: string; in?: string; required?: boolean; schema?: Schema }[];
  requestBody?: Content;
  responses: Record<string, Content & { $ref?: string; description?: string }>;
}

export interface Description {
  info: { title: string; version: string; description: string };
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, Schema> };
}

export interface Listed extends Operation {
  method: string;
  path: string;
}

/** All operations, in the order of the description. */
export const operationsOf = ({ paths }: Description): Listed[] =>
  Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ ...operation, path, method: method.toUpperCase() })),
  );

/** Those with all words in their address, name or sentence, by what they are about. */
export function found(operations: readonly Listed[], words: string): Map<string, Listed[]> {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const groups = new Map<string, Listed[]>();
  for (const operation of operations) {
    const text = `${operation.method} ${operation.path} ${operation.operationId} ${operation.summary}`.toLowerCase();
    if (!wanted.every((word) => text.includes(word))) continue;
    const tag = operation.tags[0]!;
    groups.set(tag, [...(groups.get(tag) ?? []), operation]);
  }
  return groups;
}

export const nameOfReference = (reference: string): string => reference.split("/").at(-1)!;

/** A schema in a few words: “string or null”, “list of Master”. */
export function typeWords(schema: Schema): string {
  if (schema.$ref) return nameOfReference(schema.$ref);
  if (schema.const !== undefined) return JSON.stringify(schema.const);
  if (schema.enum) return schema.enum.map((value) => JSON.stringify(value)).join(", ");
  const choices = schema.oneOf ?? schema.anyOf;
  if (choices) return [...new Set(choices.map(typeWords))].join(" or ");
  if (schema.type === "array") return schema.items ? `list of ${typeWords(schema.items)}` : "list";
  const type = Array.isArray(schema.type) ? schema.type.join(" or ") : (schema.type ?? "anything");
  return schema.format && type === "string" ? schema.format : type;
}

/** What has fields of its own behind a schema: itself, what it refers to, or what it is a list or a choice of. */
export function fieldsOf(schema: Schema, schemas: Record<string, Schema>): Schema | null {
  if (schema.$ref) {
    const target = schemas[nameOfReference(schema.$ref)];
    return target ? fieldsOf(target, schemas) : null;
  }
  if (schema.properties) return schema;
  if (schema.items) return fieldsOf(schema.items, schemas);
  const choices = (schema.oneOf ?? schema.anyOf ?? []).flatMap((one) => fieldsOf(one, schemas) ?? []);
  return choices.length === 1 ? choices[0]! : null;
}

const EXAMPLE_BODY: Record<string, string> = { "application/json": "--json '…'" };

/** The request as curl sends it. */
export function curlOf({ method, path, requestBody }: Listed, origin: string): string {
  const [type] = Object.keys(requestBody?.content ?? {});
  const body = type && (EXAMPLE_BODY[type] ?? `--data-binary @file -H 'Content-Type: ${type}'`);
  return [
    `curl -X ${method} '${origin}${path}' \\`,
    `  -H "Authorization: Bearer $RESONUM_TOKEN"${body ? ` \\\n  ${body}` : ""}`,
  ].join("\n");
}
