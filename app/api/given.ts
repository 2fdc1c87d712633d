/** What a request says, checked by the schemas of its endpoint. */
import * as z from "zod";
import { Content, parameterNames, PATH_PARAMETERS, type Endpoint, type ValidatedRequest } from "@core/api/endpoint";
import { Problem } from "@server/problem";
import { readBody, refuseBrokenText } from "@server/http/request-body";

/** The request's JSON, checked. @throws ZodError, Problem */
async function bodyOf(request: Request, { body, maxBytes }: Endpoint): Promise<unknown> {
  if (body === undefined || body instanceof Content) return undefined;
  const bytes = await readBody(request, maxBytes);
  try {
    const sent: unknown = JSON.parse(bytes.length > 0 ? bytes.toString("utf8") : "{}");
    refuseBrokenText(sent);
    return body.parse(sent);
  } catch (error) {
    if (error instanceof SyntaxError)
      throw new Problem(400, "Not JSON", "The request is not valid JSON: it was cut off, or not made by this page.");
    throw error;
  }
}

/** @param params as the address has them @throws ZodError, Problem */
export async function given<E extends Endpoint>(
  endpoint: E,
  request: Request,
  params: Record<string, unknown>,
): Promise<ValidatedRequest<E>> {
  const shape = Object.fromEntries(parameterNames(endpoint.path).map((name) => [name, PATH_PARAMETERS[name]]));
  return {
    params: z.object(shape).parse(params),
    query: endpoint.query?.parse(Object.fromEntries(new URL(request.url).searchParams)),
    body: await bodyOf(request, endpoint),
  } as ValidatedRequest<E>;
}
