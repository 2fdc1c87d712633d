/** `resonum serve`: a studio that answers on this machine, or, with accounts and TLS, to others. */
import { spawn } from "node:child_process";
import { readFile } from "node:fs/promises";
import { isIP } from "node:net";
import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { CliProblem, ERROR } from "./outcome";

export interface ServeOptions {
  host: string;
  port?: string;
  name?: string[];
  tlsCert?: string;
  tlsKey?: string;
  behindProxy?: string[];
  data?: string;
}

const isLoopback = (host: string): boolean => host === "localhost" || host === "::1" || /^127\./.test(host);

async function readable(flag: string, file: string, begins: RegExp, what: string): Promise<string> {
  const path = resolve(file);
  const text = await readFile(path, "utf8").catch(() => {
    throw new CliProblem(`${flag}: ${path} cannot be read.`);
  });
  if (!begins.test(text)) throw new CliProblem(`${flag} asks for ${what} in PEM; ${path} is none.`);
  return path;
}

/** What the studio is told by its environment. @throws CliProblem where it would be open to listeners on the way */
export async function serveEnvironment(options: ServeOptions): Promise<Record<string, string>> {
  const { host, port, name: names = [], tlsCert, tlsKey, behindProxy: proxies = [] } = options;
  if (port !== undefined && !(/^\d+$/.test(port) && Number(port) > 0 && Number(port) < 65_536))
    throw new CliProblem(`--port asks for a number from 1 to 65535; “${port}” is none.`);
  if ((tlsCert === undefined) !== (tlsKey === undefined))
    throw new CliProblem("--tls-cert and --tls-key belong together.");
  if (tlsCert && proxies.length > 0)
    throw new CliProblem("TLS ends here (--tls-cert) or at a proxy (--behind-proxy), not at both.");
  const wrong = proxies.find((proxy) => isIP(proxy) === 0);
  if (wrong)
    throw new CliProblem(`--behind-proxy asks for the address of the proxy, such as 127.0.0.1; “${wrong}” is none.`);
  const isOpen = tlsCert !== undefined || proxies.length > 0;
  if (!isLoopback(host) && !isOpen)
    throw new CliProblem(
      `On ${host} everybody on the way could listen: give --tls-cert and --tls-key, or name the proxy that ends TLS with --behind-proxy.`,
    );
  if (isOpen && names.length === 0)
    throw new CliProblem("--name says which name the studio is opened by, such as studio.example.");
  return {
    RESONUM_HOST: host,
    ...(port ? { PORT: port } : {}),
    ...(options.data ? { RESONUM_DATA: resolve(options.data) } : {}),
    RESONUM_HOSTS: names.join(","),
    RESONUM_PROXIES: proxies.join(","),
    RESONUM_TLS: tlsCert ? "own" : proxies.length > 0 ? "proxy" : "",
    ...(tlsCert && tlsKey
      ? {
          RESONUM_TLS_CERT: await readable("--tls-cert", tlsCert, /^-----BEGIN CERTIFICATE-----/m, "a certificate"),
          RESONUM_TLS_KEY: await readable("--tls-key", tlsKey, /^-----BEGIN .*PRIVATE KEY-----/m, "a private key"),
        }
      : {}),
  };
}

/** Starts the studio and runs until it is stopped. */
export async function serve(options: ServeOptions): Promise<void> {
  const child = spawn(process.execPath, [fileURLToPath(new URL("../scripts/start.mjs", import.meta.url)), "studio"], {
    stdio: "inherit",
    env: { ...process.env, ...(await serveEnvironment(options)) },
  });
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => child.kill(signal));
  const code = await new Promise<number | null>((done) => child.on("close", done));
  if (code !== 0) process.exitCode = ERROR;
}
