/**
 * What a route of the API is: said once, beside what it takes and what it answers. Requests are checked by it, the
 * client's types and the OpenAPI description are made from it.
 */
import * as z from "zod";
import { hashSchema } from "../parameters/identifiers";

export type Method = "GET" | "POST" | "PUT" | "PATCH" | "DELETE";

/** Content that is no JSON: of a request, or of an answer. */
export class Content {
  constructor(readonly mediaTypes: readonly string[]) {}
}
export const content = (...mediaTypes: string[]) => new Content(mediaTypes);

/** What the parts of an address that stand in braces are. */
export const PATH_PARAMETERS = {
  project: z.uuid(),
  master: z.uuid(),
  review: z.uuid(),
  remark: z.uuid(),
  comment: z.uuid(),
  person: z.uuid(),
  invitation: z.uuid(),
  session: z.uuid(),
  token: z.uuid(),
  webhook: z.uuid(),
  hash: hashSchema.describe("SHA-256 of the content, 64 hexadecimal digits."),
  position: z.coerce.number<string | number>().int().min(0).max(10_000).describe("Of a file in a review, from 0."),
  name: z.string().min(1).max(300),
  worker: z.string().min(1).max(300),
} as const;
export type PathParameter = keyof typeof PATH_PARAMETERS;

type NamesIn<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}`
  ? (Name & PathParameter) | NamesIn<Rest>
  : never;

/** Values of the parameters of an address. */
export type ParamsOf<Path extends string> = {
  [Name in NamesIn<Path>]: z.output<(typeof PATH_PARAMETERS)[Name]>;
};

type Schema = z.ZodType | undefined;
type SchemaOrContent = z.ZodType | Content | undefined;

export interface Endpoint<
  M extends Method = Method,
  Path extends string = string,
  Query extends Schema = Schema,
  Body extends SchemaOrContent = SchemaOrContent,
  Answer extends SchemaOrContent = SchemaOrContent,
> {
  readonly method: M;
  /** With its parameters in braces, as OpenAPI writes it. */
  readonly path: Path;
  /** What it does, in a sentence. */
  readonly summary: string;
  readonly query: Query;
  readonly body: Body;
  /** `undefined` where there is nothing to say but that it was done. */
  readonly answer: Answer;
  /** Largest JSON body, bytes. */
  readonly maxBytes: number;
  /** Whether an answer may have a page after it, told by a `Link` header. */
  readonly paged: boolean;
  /** Whether what is sent or answered is secret, or sets a cookie: nothing of it is kept. */
  readonly hasSecret: boolean;
}

const MAX_BODY = 1 << 20;

export const endpoint = <
  const M extends Method,
  const Path extends string,
  Query extends Schema = undefined,
  Body extends SchemaOrContent = undefined,
  Answer extends SchemaOrContent = undefined,
>(
  method: M,
  path: Path,
  summary: string,
  more: { query?: Query; body?: Body; answer?: Answer; maxBytes?: number; paged?: boolean; hasSecret?: boolean } = {},
): Endpoint<M, Path, Query, Body, Answer> => ({
  method,
  path,
  summary,
  query: more.query as Query,
  body: more.body as Body,
  answer: more.answer as Answer,
  maxBytes: more.maxBytes ?? MAX_BODY,
  paged: more.paged ?? false,
  hasSecret: more.hasSecret ?? false,
});

type Output<S> = S extends z.ZodType ? z.output<S> : undefined;
type Input<S> = S extends z.ZodType ? z.input<S> : undefined;

/** What a handler is given, checked. */
export interface ValidatedRequest<E extends Endpoint> {
  params: ParamsOf<E["path"]>;
  query: Output<E["query"]>;
  body: Output<E["body"]>;
}

/** What a handler gives back: what becomes the JSON of the answer. */
export type HandlerResult<E extends Endpoint> = E["answer"] extends z.ZodType ? z.output<E["answer"]> : void;

/** What the answer of an endpoint is to whoever asks. */
export type ResponseOf<E extends Endpoint> = E["answer"] extends z.ZodType ? z.output<E["answer"]> : undefined;

type Part<Name extends string, Value> = [Value] extends [undefined]
  ? unknown
  : Record<never, never> extends Value
    ? { [N in Name]?: Value }
    : { [N in Name]: Value };

/** What whoever asks has to say. */
export type RequestOf<E extends Endpoint> = Part<
  "params",
  [NamesIn<E["path"]>] extends [never] ? undefined : { [N in NamesIn<E["path"]>]: string | number }
> &
  Part<"query", Input<E["query"]>> &
  Part<"body", E["body"] extends Content ? Blob | ArrayBuffer | ReadableStream : Input<E["body"]>>;

/** Whether the response to a request with an idempotency key is kept: JSON alone, and nothing secret. */
export const acceptsIdempotencyKey = ({ method, body, answer, hasSecret }: Endpoint): boolean =>
  method === "POST" && !hasSecret && !(body instanceof Content) && !(answer instanceof Content);

/** Names of the parameters of an address, in their order. */
export const parameterNames = (path: string): PathParameter[] =>
  [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name as PathParameter);
