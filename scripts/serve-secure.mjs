// The web server with TLS of its own: Next.js behind Node's HTTPS server. What it is told stands in the environment.
import { readFileSync, watchFile } from "node:fs";
import { createServer } from "node:https";
import next from "next";
import { root } from "./paths.mjs";

const { RESONUM_HOST: host, RESONUM_PORT: port, RESONUM_TLS_CERT: cert, RESONUM_TLS_KEY: key } = process.env;
const KEEP_ALIVE_MS = 75_000;
const LOOK_MS = 60_000;

const certificate = () => ({ cert: readFileSync(cert), key: readFileSync(key) });

const application = next({ dev: false, dir: root, hostname: host, port: Number(port) });
await application.prepare();
const handle = application.getRequestHandler();
const server = createServer({ ...certificate(), minVersion: "TLSv1.2" }, (request, response) => {
  response.setHeader("Strict-Transport-Security", "max-age=31536000");
  void handle(request, response);
});
server.keepAliveTimeout = KEEP_ALIVE_MS;
// A certificate that was renewed is taken without a restart.
watchFile(cert, { interval: LOOK_MS, persistent: false }, () => {
  try {
    server.setSecureContext(certificate());
  } catch (error) {
    process.stderr.write(`The new certificate could not be taken; the former one stays in use: ${error.message}\n`);
  }
});
server.listen(Number(port), host);
