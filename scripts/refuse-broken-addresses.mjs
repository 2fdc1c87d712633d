// Loaded before the web server (`node --import`): an address whose path cannot be decoded is a bad request. The router
// would answer that the server failed.
import { Server } from "node:http";

const PROBLEM = JSON.stringify({
  type: "about:blank",
  title: "Not valid",
  status: 400,
  detail: "The address holds signs that stand for no character.",
});

/** Whether every sign of an address's path stands for a character. */
export function isDecodable(url) {
  try {
    decodeURIComponent(url.split(/[?#]/, 1)[0]);
    return true;
  } catch {
    return false;
  }
}

const emit = Server.prototype.emit;
Server.prototype.emit = function (event, ...rest) {
  const [request, response] = rest;
  if (event !== "request" || isDecodable(request.url)) return emit.call(this, event, ...rest);
  request.resume();
  response.writeHead(400, { "Content-Type": "application/problem+json", Connection: "close" }).end(PROBLEM);
  return true;
};
