/** Which requests are the studio's own: by the name that it was asked under, and the page that they come from. */
import { config } from "@server/config";
import { Problem } from "@server/problem";

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** How the studio calls itself on such a host. */
const originOf = (host: string): string => `${config.tls ? "https" : "http"}://${host}`;

/** Refuses other sites' pages, and names that only pretend to be this machine. @throws Problem */
export function checkOrigin(request: Request): void {
  const host = request.headers.get("host") ?? "";
  if (!LOOPBACK.test(host) && !config.hosts.includes(host.toLowerCase()))
    throw new Problem(
      421,
      "Wrong host",
      config.hosts.length === 0
        ? "Resonum answers on this machine's loopback address only."
        : "The studio does not answer to this name: “resonum serve --name” says which it has.",
    );
  if (request.method === "GET" || request.method === "HEAD") return;
  const origin = request.headers.get("origin");
  const site = request.headers.get("sec-fetch-site");
  const own = origin === null ? site === null || site === "same-origin" : origin === originOf(host);
  if (!own)
    throw new Problem(403, "Wrong origin", "This change was asked for by another site's page and was not made.");
}
