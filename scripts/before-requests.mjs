// Loaded before the web server (`node --import`): looks at each request before the router does.
import { Server as PlainServer } from "node:http";
import { Server as SecureServer } from "node:https";

const problem = (status, title, detail) => JSON.stringify({ type: "about:blank", title, status, detail });
const UNDECODABLE = problem(400, "Not valid", "The address holds signs that stand for no character.");
const PAST_THE_PROXY = problem(403, "Not this way", "The studio answers to its proxy alone.");

/** Whether every sign of an address's path stands for a character: of another the router would say that the server failed. */
export function isDecodable(url) {
  try {
    decodeURIComponent(url.split(/[?#]/, 1)[0]);
    return true;
  } catch {
    return false;
  }
}

/** What is believed of a proxy alone, and would be a lie from anybody else. */
const FORWARDED = ["forwarded", "x-forwarded-for", "x-forwarded-host", "x-forwarded-port", "x-forwarded-proto"];

const plain = (address) => address?.replace(/^::ffff:/, "");

/**
 * Says where a request comes from as `x-resonum-address`, whatever it said under that name itself: who is connected, or
 * whom a proxy that is believed names last.
 * @param proxies addresses of proxies that are believed
 */
export function noteAddress(request, proxies) {
  const peer = plain(request.socket.remoteAddress);
  const hops = (request.headers["x-forwarded-for"] ?? "").split(",").map((hop) => hop.trim());
  const isProxy = proxies.includes(peer);
  if (!isProxy) for (const name of FORWARDED) delete request.headers[name];
  const address = isProxy ? plain(hops.at(-1)) || peer : peer;
  if (address) request.headers["x-resonum-address"] = address;
  else delete request.headers["x-resonum-address"];
}

/** Whether somebody comes past the proxy that ends TLS. */
const isPast = (request) =>
  proxies.length > 0 && !proxies.includes(plain(request.socket.remoteAddress)) && !isLoopback(request);

const isLoopback = ({ socket }) => /^(127\.|::1$)/.test(plain(socket.remoteAddress) ?? "");

const proxies = (process.env.RESONUM_PROXIES ?? "").split(",").filter(Boolean);

function refuse(request, response, status, text) {
  request.resume();
  response.writeHead(status, { "Content-Type": "application/problem+json", Connection: "close" }).end(text);
  return true;
}

for (const { prototype } of [PlainServer, SecureServer]) {
  const { emit } = prototype;
  prototype.emit = function (event, ...rest) {
    const [request, response] = rest;
    if (event !== "request") return emit.call(this, event, ...rest);
    if (isPast(request)) return refuse(request, response, 403, PAST_THE_PROXY);
    if (!isDecodable(request.url)) return refuse(request, response, 400, UNDECODABLE);
    noteAddress(request, proxies);
    return emit.call(this, event, ...rest);
  };
}
