/// <reference types="vite/types/importMeta.d.ts" />
/** For integration tests: the routes of the application, as requests reach them. */
import type { Endpoint } from "@core/api/endpoint";
import type { Access } from "../../server/people/access";

export type Handler = ((request: Request, context: { params: Promise<object | undefined> }) => Promise<Response>) & {
  access: Access;
  endpoint?: Endpoint;
};

const METHODS = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"] as const;
const modules = import.meta.glob<Record<string, Handler>>("../../app/**/route.ts", { eager: true });

/** Every route with each of its methods. */
export const ROUTES = Object.entries(modules)
  .flatMap(([file, exported]) => {
    const address = file.replace("../../app", "").replace(/\/route\.ts$/, "");
    return METHODS.filter((method) => exported[method]).map((method) => ({
      address,
      method,
      handler: exported[method]!,
    }));
  })
  .sort((a, b) => `${a.address} ${a.method}`.localeCompare(`${b.address} ${b.method}`));

/** What answers an endpoint. */
export const handlerOf = (endpoint: Endpoint): Handler =>
  ROUTES.find(({ handler, method }) => handler.endpoint === endpoint && method !== "HEAD")!.handler;
