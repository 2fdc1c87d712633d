/** All endpoints of the API, by what they are about. */
import * as account from "./account";
import * as comments from "./comments";
import type { Endpoint } from "./endpoint";
import * as masters from "./masters";
import * as operations from "./operations";
import * as people from "./people";
import * as projects from "./projects";
import * as recordings from "./recordings";
import * as reviews from "./reviews";
import * as webhooks from "./webhooks";

export interface NamedEndpoint {
  /** As the client calls it, and OpenAPI's operationId. */
  id: string;
  tag: string;
  endpoint: Endpoint;
}

const TAGS = { projects, recordings, masters, reviews, comments, people, account, operations, webhooks };

type Endpoints = { [Tag in keyof typeof TAGS]: (typeof TAGS)[Tag][keyof (typeof TAGS)[Tag]] }[keyof typeof TAGS];

/** Endpoints by method and address, as the client asks for them: `"GET /api/projects/{project}"`. */
export type EndpointByKey = {
  [E in Extract<Endpoints, Endpoint> as `${E["method"]} ${E["path"]}`]: E;
};
export type EndpointKey = keyof EndpointByKey;

const isEndpoint = (value: unknown): value is Endpoint =>
  typeof value === "object" && value !== null && "method" in value && "path" in value;

const METHODS = ["GET", "POST", "PUT", "PATCH", "DELETE"];
const sortKey = ({ endpoint: { path, method } }: NamedEndpoint): string => `${path} ${METHODS.indexOf(method)}`;

/** By what they are about, then by address: names of a module come in no order of their own. */
export const ENDPOINTS: readonly NamedEndpoint[] = Object.entries(TAGS).flatMap(([tag, exported]) =>
  Object.entries(exported)
    .flatMap(([id, endpoint]) => (isEndpoint(endpoint) ? [{ id, tag, endpoint }] : []))
    .sort((a, b) => sortKey(a).localeCompare(sortKey(b), "en")),
);
