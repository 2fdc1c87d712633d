/** The API as an OpenAPI 3.1 description, made from what requests are checked by. */
import * as z from "zod";
import { commandSchemas } from "../project/commands";
import { Content, acceptsIdempotencyKey, parameterNames, PATH_PARAMETERS, type Endpoint } from "./endpoint";
import { ENDPOINTS, type NamedEndpoint } from "./index";

type Json = Record<string, unknown>;

const DESCRIPTION = `Requests and answers are JSON, but for files. Errors are problem documents (RFC 9457).

Programs authorise by an API token of an account, with scopes: \`Authorization: Bearer …\`. A studio without accounts
answers on its own machine and asks for none.

A request with an \`Idempotency-Key\` that is sent again within a day is answered again and not done again. Lists of which
a page is told have the next one in a \`Link\` header (RFC 8288). Who asks too often gets 429 with \`Retry-After\`.

Recordings are uploaded by tus 1.0 at \`/api/uploads\`, with \`filename\` and \`project\` in \`Upload-Metadata\`.`;

/** Definitions of named schemas stand in one place and are referred to. */
class Components {
  readonly schemas: Json = {};

  /** @param io whether it is of a request or of an answer */
  reference(schema: z.ZodType, io: "input" | "output"): Json {
    const {
      $schema: _,
      $defs,
      ...made
    } = z.toJSONSchema(schema, {
      io,
      unrepresentable: "any",
      override: ({ zodSchema, jsonSchema }) => {
        // Any edit: its fields are those of the command that its type names.
        if (z.globalRegistry.get(zodSchema)?.id === "Command") this.#describeCommand(jsonSchema as Json);
      },
    }) as Json;
    // What is sent may leave out what an answer always has: the two are told apart by name.
    const suffix = io === "input" ? "Input" : "";
    for (const [name, definition] of Object.entries(($defs ?? {}) as Json))
      this.schemas[name + suffix] ??= renamed(definition, suffix);
    return renamed(made, suffix) as Json;
  }

  #describeCommand(described: Json): void {
    for (const name of Object.keys(described)) if (name !== "id") delete described[name];
    described.oneOf = commandSchemas().map((schema) => this.reference(schema, "input"));
  }
}

/** References as OpenAPI has them. */
const renamed = (schema: unknown, suffix: string): unknown =>
  JSON.parse(JSON.stringify(schema).replaceAll(/"#\/\$defs\/([^"]+)"/g, `"#/components/schemas/$1${suffix}"`));

const binary = (mediaTypes: readonly string[]): Json =>
  Object.fromEntries(mediaTypes.map((type) => [type, { schema: { type: "string", format: "binary" } }]));

function parametersOf(endpoint: Endpoint, components: Components): Json[] {
  const { path, query } = endpoint;
  const inPath = parameterNames(path).map((name) => ({
    ...{ name, in: "path", required: true },
    schema: components.reference(PATH_PARAMETERS[name], "output"),
  }));
  const { properties = {}, required = [] } = query
    ? (components.reference(query, "input") as { properties?: Json; required?: string[] })
    : {};
  const inQuery = Object.entries(properties).map(([name, schema]) => ({
    ...{ name, in: "query", required: required.includes(name) },
    schema,
  }));
  const key = acceptsIdempotencyKey(endpoint) ? [{ $ref: "#/components/parameters/IdempotencyKey" }] : [];
  return [...inPath, ...inQuery, ...key];
}

function answersOf({ answer, paged }: Endpoint, components: Components): Json {
  const problem = { $ref: "#/components/responses/Problem" };
  const headers = paged ? { headers: { Link: { $ref: "#/components/headers/Link" } } } : {};
  if (answer === undefined) return { 204: { description: "Done." }, default: problem };
  const content =
    answer instanceof Content
      ? binary(answer.mediaTypes)
      : { "application/json": { schema: components.reference(answer, "output") } };
  return { 200: { description: "What was asked for.", ...headers, content }, default: problem };
}

function operation({ id, tag, endpoint }: NamedEndpoint, components: Components): Json {
  const { summary, body } = endpoint;
  const content =
    body instanceof Content
      ? binary(body.mediaTypes)
      : body && { "application/json": { schema: components.reference(body, "input") } };
  const parameters = parametersOf(endpoint, components);
  return {
    operationId: id,
    tags: [tag],
    summary,
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(content ? { requestBody: { required: true, content } } : {}),
    responses: answersOf(endpoint, components),
  };
}

const PROBLEM_SCHEMA = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.number().int(),
    detail: z.string().describe("What happened, and what to do about it."),
    errors: z.array(z.object({ where: z.string(), what: z.string() })).optional(),
  })
  .meta({ id: "Problem" });

/** @param version of the application */
export function openApiDocument(version: string): Json {
  const components = new Components();
  const paths: Record<string, Json> = {};
  for (const named of ENDPOINTS) {
    const { path, method } = named.endpoint;
    (paths[path] ??= {})[method.toLowerCase()] = operation(named, components);
  }
  const problem = { "application/problem+json": { schema: components.reference(PROBLEM_SCHEMA, "output") } };
  return {
    openapi: "3.1.0",
    info: { title: "Resonum", version, description: DESCRIPTION },
    servers: [{ url: "/" }],
    security: [{ token: [] }, {}],
    tags: [...new Set(ENDPOINTS.map(({ tag }) => tag))].map((name) => ({ name })),
    paths,
    components: {
      schemas: components.schemas,
      securitySchemes: { token: { type: "http", scheme: "bearer" } },
      responses: { Problem: { description: "Why it was not done.", content: problem } },
      headers: { Link: { description: "The next page: rel=“next” (RFC 8288).", schema: { type: "string" } } },
      parameters: {
        IdempotencyKey: {
          ...{ name: "Idempotency-Key", in: "header", required: false },
          description: "Sent again with the same key, the request is answered again and not done again.",
          schema: { type: "string", minLength: 8, maxLength: 200 },
        },
      },
    },
  };
}
