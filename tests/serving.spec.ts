/** A studio that others reach: TLS of its own, names that it answers to, and a proxy that is believed. */
import { execFileSync, spawnSync } from "node:child_process";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, request, test, type APIRequestContext } from "@playwright/test";
import { ownStudio } from "./own-studio";

const ACCOUNT = { name: "Oriel", email: "oriel@sluice.example", password: "nine herons over the sluice" };

/** A program that asks the studio as somebody at such an address, through a proxy. */
const through = (address: string, forwarded: string): Promise<APIRequestContext> =>
  request.newContext({
    baseURL: address.replace("localhost", "127.0.0.1"),
    ignoreHTTPSErrors: true,
    extraHTTPHeaders: { "X-Forwarded-For": forwarded },
  });

test("with TLS of its own: cookies stay on it, names that are not the studio's are refused", async ({ browser }) => {
  const folder = await mkdtemp(join(tmpdir(), "resonum-tls-"));
  const [cert, key] = [join(folder, "cert.pem"), join(folder, "key.pem")];
  const made = ["req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:P-256", "-nodes", "-days", "2"];
  execFileSync("openssl", [...made, "-subj", "/CN=localhost", "-keyout", key, "-out", cert], { stdio: "ignore" });
  const studio = await ownStudio(
    { RESONUM_TLS: "own", RESONUM_TLS_CERT: cert, RESONUM_TLS_KEY: key, RESONUM_HOSTS: "studio.example" },
    0,
  );
  try {
    const page = await (await browser.newContext({ baseURL: studio.address, ignoreHTTPSErrors: true })).newPage();
    await page.goto("/people");
    await page.getByRole("textbox", { name: "Name" }).fill(ACCOUNT.name);
    await page.getByLabel("E-mail address").fill(ACCOUNT.email);
    await page.getByLabel("Password").fill(ACCOUNT.password);
    await page.getByRole("button", { name: "Become the owner" }).click();
    await expect(page.getByRole("row", { name: /Oriel you/ })).toBeVisible();
    const session = (await page.context().cookies()).find(({ name }) => name.includes("session_token"))!;
    expect(session).toMatchObject({ secure: true, httpOnly: true, sameSite: "Lax" });
    const answer = await page.request.get("/api/me");
    const headers = answer.headers();
    expect(headers["strict-transport-security"]).toMatch(/max-age=\d{8}/);
    expect(headers).toMatchObject({ "x-content-type-options": "nosniff", "cache-control": "no-store" });
    expect(Object.keys(headers).filter((name) => name.startsWith("access-control"))).toEqual([]);
    const called = async (host: string) => (await page.request.get("/api/status", { headers: { host } })).status();
    expect([await called("studio.example"), await called("elsewhere.example")]).toEqual([200, 421]);
    await page.context().close();
  } finally {
    await studio.stop();
    await rm(folder, { recursive: true });
  }
});

test("behind a proxy: its word is believed, that of others is not, and lock-outs are by who is behind it", async () => {
  const studio = await ownStudio(
    { RESONUM_TLS: "proxy", RESONUM_PROXIES: "127.0.0.1", RESONUM_HOSTS: "studio.example" },
    0,
  );
  try {
    const here = await through(studio.address, "127.0.0.1");
    // From elsewhere nobody owns a studio without accounts.
    const elsewhere = await through(studio.address, "192.0.2.7");
    expect((await elsewhere.get("/api/projects")).status()).toBe(401);
    expect((await elsewhere.post("/api/people", { data: ACCOUNT })).status()).toBe(401);
    expect((await here.post("/api/people", { data: ACCOUNT })).status()).toBe(204);
    const { email, password } = ACCOUNT;
    const tries = async (program: APIRequestContext, given: string) =>
      (await program.post("/api/sign-in", { data: { email, password: given } })).status();
    for (let i = 0; i < 5; i++) expect(await tries(elsewhere, `guess ${i}`)).toBe(401);
    expect(await tries(elsewhere, password)).toBe(429);
    // What somebody says of themselves before the proxy adds its word counts for nothing.
    expect(await tries(await through(studio.address, "203.0.113.9, 192.0.2.7"), password)).toBe(429);
    const other = await through(studio.address, "192.0.2.8");
    expect(await tries(other, password)).toBe(200);
    const [entry] = await studio.query("select address from audit where action = 'signed in' order by id desc limit 1");
    expect(entry).toEqual({ address: "192.0.2.8" });
    // The header by which the server itself tells it is not taken from outside.
    const liar = await request.newContext({
      baseURL: studio.address.replace("localhost", "127.0.0.1"),
      extraHTTPHeaders: { "X-Forwarded-For": "192.0.2.7", "X-Resonum-Address": "127.0.0.1" },
    });
    expect(await tries(liar, password)).toBe(429);
  } finally {
    await studio.stop();
  }
});

test("is not begun without TLS, without a name, or without an owner", async () => {
  const data = await mkdtemp(join(tmpdir(), "resonum-serve-"));
  const serve = (...args: string[]) => {
    const { status, stderr } = spawnSync(process.execPath, ["dist/cli.mjs", "serve", "--data", data, ...args], {
      encoding: "utf8",
      env: { PATH: process.env.PATH ?? "", HOME: data },
      timeout: 120_000,
    });
    return { status, words: stderr };
  };
  try {
    expect(serve("--host", "0.0.0.0")).toMatchObject({ status: 2, words: expect.stringContaining("--behind-proxy") });
    expect(serve("--host", "0.0.0.0", "--behind-proxy", "10.0.0.1").words).toContain("--name");
    const refused = serve("--host", "0.0.0.0", "--behind-proxy", "10.0.0.1", "--name", "studio.example");
    expect(refused.status).not.toBe(0);
    expect(refused.words).toContain("has no owner");
  } finally {
    await rm(data, { recursive: true, force: true });
  }
});
