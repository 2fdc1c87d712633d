/** A studio with accounts, on a server of its own: its first owner, invitations, roles, passkeys, being signed out. */
import { expect, test, type Browser, type Page } from "@playwright/test";
import { accessibilityFaults } from "./accessibility";
import { ownStudio, type OwnStudio } from "./own-studio";
import { projectOf, programme, recording, saved, takeIn } from "./studio";

test.describe.configure({ mode: "serial" });

const PASSWORD = "nine herons over the sluice";
let studio: OwnStudio;
let owner: Page;

/** Somebody at another machine: nothing is shared with who else is here. */
async function somebody(browser: Browser, place = "/"): Promise<Page> {
  const page = await (await browser.newContext({ baseURL: studio.address })).newPage();
  await page.goto(place);
  return page;
}

async function signIn(page: Page, email: string, password = PASSWORD): Promise<void> {
  await page.getByLabel("E-mail address").fill(email);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
}

/** Makes a link as the owner, and follows it as somebody else. */
async function invited(browser: Browser, name: string, role: string, part?: { project: string; part: string }) {
  await owner.goto("/people");
  await owner.getByLabel("For whom").fill(name);
  await owner.getByLabel("Role in the studio").selectOption(role);
  if (part) {
    await owner.getByLabel("Project", { exact: true }).selectOption(part.project);
    await owner.getByLabel("Part in it").selectOption(part.part);
  }
  await owner.getByRole("button", { name: "Make a link" }).click();
  const link = await owner.getByLabel("Send this link, which is told this once").inputValue();
  const page = await somebody(browser, link);
  await page.getByRole("textbox", { name: "Name" }).fill(name);
  await page.getByLabel("E-mail address").fill(`${name.toLowerCase()}@sluice.example`);
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Join" }).click();
  await expect(page.getByRole("link", { name })).toBeVisible();
  return { page, link };
}

test.beforeAll(async ({ browser }) => {
  studio = await ownStudio();
  owner = await somebody(browser);
});
test.afterAll(() => studio.stop());

test("one person on the machine signs in nowhere, and becomes the owner by a page", async ({ browser }) => {
  await expect(owner.getByText("No projects yet")).toBeVisible();
  await owner.getByRole("link", { name: "People" }).click();
  await owner.getByRole("textbox", { name: "Name" }).fill("Oriel");
  await owner.getByLabel("E-mail address").fill("oriel@sluice.example");
  await owner.getByLabel("Password").fill("password1234");
  await owner.getByRole("button", { name: "Become the owner" }).click();
  await expect(owner.getByRole("alert").filter({ hasText: "among the first" })).toBeVisible();
  await owner.getByLabel("Password").fill(PASSWORD);
  await owner.getByRole("button", { name: "Become the owner" }).click();
  await expect(owner.getByRole("row", { name: /Oriel you/ })).toBeVisible();
  const other = await somebody(browser, "/people?x=1");
  await expect(other).toHaveURL(/\/sign-in\?next=%2Fpeople%3Fx%3D1$/);
  expect((await other.request.get("/api/projects")).status()).toBe(401);
  await signIn(other, "oriel@sluice.example", "wrong");
  await expect(other.getByRole("alert").filter({ hasText: "do not belong together" })).toBeVisible();
  await signIn(other, "oriel@sluice.example");
  await expect(other).toHaveURL(/\/people\?x=1$/);
  await other.context().close();
});

test("cookies are kept from scripts and from other sites; a page of another site changes nothing", async () => {
  const cookies = await owner.context().cookies();
  const session = cookies.find(({ name }) => name.includes("session_token"))!;
  expect(session).toMatchObject({ httpOnly: true, sameSite: "Lax" });
  const forged = await owner.request.post("/api/projects", {
    data: { name: "Forged", template: "music" },
    headers: { origin: "http://elsewhere.example", "sec-fetch-site": "cross-site" },
  });
  expect(forged.status()).toBe(403);
});

test("a client sees the project that they were given, hears it, and changes nothing; of others they learn nothing", async ({
  browser,
}) => {
  const make = async (name: string) =>
    (
      (await (await owner.request.post("/api/projects", { data: { name, template: "music" } })).json()) as {
        id: string;
      }
    ).id;
  const [project, other] = [await make("Tide Tables"), await make("Not theirs")];
  await owner.goto(`/projects/${project}`);
  await takeIn(owner, [await recording("Tide.wav", programme(3, 0.4))]);
  await saved(owner);
  const { page: client, link } = await invited(browser, "Wen", "guest", { project: "Tide Tables", part: "listen" });
  await expect(client.getByRole("link", { name: "Tide Tables" })).toBeVisible();
  await expect(client.getByText("Not theirs")).toBeHidden();
  await expect(client.getByRole("button", { name: "New project" })).toBeHidden();
  await expect(client.getByRole("link", { name: "Operations" })).toBeHidden();
  await client.getByRole("link", { name: "Tide Tables" }).click();
  await expect(client.getByText("You listen to this project")).toBeVisible();
  await expect(client.getByTestId("lanes")).toBeVisible();
  // What is tried is taken by nobody.
  const before = (await projectOf(owner, project)).head;
  await client.keyboard.press("t");
  await expect(client.getByText("nothing was changed")).toBeVisible();
  expect((await projectOf(owner, project)).head).toBe(before);
  const { sources, head } = await projectOf(client, project);
  expect((await client.request.get(`/api/blobs/${sources[0]!.pcm_hash}`)).status()).toBe(200);
  for (const path of [
    `projects/${other}`,
    `projects/${other}/history`,
    `blobs/${"f".repeat(64)}`,
    "people",
    "activity",
  ])
    expect([403, 404]).toContain((await client.request.get(`/api/${path}`)).status());
  const refused = await client.request.post(`/api/projects/${project}/commands`, {
    data: { base: head, command: { type: "renameProject", name: "Mine" } },
  });
  expect(refused.status()).toBe(403);
  // The same link leads nobody else in.
  const late = await somebody(browser, link);
  await expect(late.getByText("This link leads nowhere")).toBeVisible();
  await late.context().close();
  // A part that is taken away is gone at once, from the open page as well.
  await owner.goto("/");
  await owner.getByRole("button", { name: "More for Tide Tables" }).click();
  await owner.getByRole("menuitem", { name: "People …" }).click();
  await owner.getByLabel("Part of Wen").selectOption("none");
  await expect.poll(async () => (await client.request.get(`/api/projects/${project}`)).status()).toBe(404);
  await client.goto("/");
  await expect(client.getByText("You were not given a project yet")).toBeVisible();
  await client.context().close();
});

test("edits stand under a name, in the history and in the audit trail", async ({ browser }) => {
  const { page: engineer } = await invited(browser, "Marl", "engineer");
  await engineer.getByRole("link", { name: "Tide Tables" }).click();
  await expect(engineer.getByTestId("lanes")).toBeVisible();
  await engineer.keyboard.press("t");
  await saved(engineer);
  await owner.goto("/activity");
  const edited = owner.getByTestId("activity").getByRole("row").filter({ hasText: "Marl" }).first();
  await expect(edited).toContainText("edited");
  await expect(edited).toContainText("Tide Tables");
  await owner.getByLabel("Find by name").fill("signed in");
  await expect(owner.getByTestId("activity").getByRole("row").nth(1)).toContainText("signed in");
  await engineer.context().close();
});

test("two in one project see each other, and one goes along with the other's view and listening", async ({
  browser,
}) => {
  const other = await somebody(browser);
  await signIn(other, "marl@sluice.example");
  await other.getByRole("link", { name: "Tide Tables" }).click();
  await expect(other.getByTestId("lanes")).toBeVisible();
  await owner.goto(other.url());
  await expect(owner.getByTestId("lanes")).toBeVisible();
  const marl = owner.getByRole("list", { name: "Who else is here" }).getByRole("button", { name: /Marl/ });
  await expect(marl).toContainText("intake");
  await expect(other.getByRole("list", { name: "Who else is here" })).toContainText("Oriel");
  await marl.click();
  await other.keyboard.press("4");
  await expect(owner.getByRole("button", { name: /Shape/ })).toHaveAttribute("aria-current", "page");
  await other.keyboard.press("Space");
  await expect(marl.getByLabel("listens")).toBeVisible();
  await expect(owner.getByRole("button", { name: "Pause" })).toBeVisible();
  await other.keyboard.press("Space");
  await expect(owner.getByRole("button", { name: "Play", exact: false }).first()).toBeVisible();
  // An edit of the one is on the other's page in a moment; let go of, the other stays where they are.
  await marl.click();
  await other.keyboard.press("5");
  await expect(marl).toContainText("sequence");
  await expect(owner.getByRole("button", { name: /Shape/ })).toHaveAttribute("aria-current", "page");
  await other.context().close();
  await expect(owner.getByRole("list", { name: "Who else is here" })).toBeHidden();
});

test("whoever is signed out goes on where they were, and nothing that they did is lost", async ({ browser }) => {
  const page = await somebody(browser);
  await signIn(page, "marl@sluice.example");
  await page.getByRole("link", { name: "Tide Tables" }).click();
  await expect(page.getByTestId("lanes")).toBeVisible();
  const project = page.url().split("/").pop()!.split("?")[0]!;
  const markers = async () => (await projectOf(owner, project)).document.items[0]!.markers.length;
  const before = await markers();
  await studio.query(
    `delete from session where "userId" = (select "id" from person where email = 'marl@sluice.example')`,
  );
  await page.keyboard.press("t");
  await expect(page.getByRole("dialog", { name: "You were signed out" })).toBeVisible();
  expect(await markers()).toBe(before);
  await signIn(page, "marl@sluice.example");
  await expect(page.getByRole("dialog")).toBeHidden();
  await expect.poll(markers).toBe(before + 1);
  await saved(page);
  await page.context().close();
});

test("a passkey signs in without a password, and an API token acts within its scopes", async ({ browser }) => {
  await owner.goto("/account");
  const session = await owner.context().newCDPSession(owner);
  await session.send("WebAuthn.enable");
  const { authenticatorId } = await session.send("WebAuthn.addVirtualAuthenticator", {
    options: {
      protocol: "ctap2",
      transport: "internal",
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
    },
  });
  await owner.getByLabel("Name of the device").fill("desk in room 2");
  await owner.getByRole("button", { name: "Add" }).click();
  await expect(owner.getByText("desk in room 2")).toBeVisible();
  const { credentials } = await session.send("WebAuthn.getCredentials", { authenticatorId });
  expect(credentials).toHaveLength(1);
  await owner.getByLabel("For what").fill("the night's batch");
  await owner.getByRole("button", { name: "Make a token" }).click();
  const token = await owner.getByLabel("The token, told this once").inputValue();
  const program = await browser.newContext({
    baseURL: studio.address,
    extraHTTPHeaders: { Authorization: `Bearer ${token}` },
  });
  expect((await program.request.get("/api/projects")).status()).toBe(200);
  const refused = await program.request.post("/api/projects", { data: { name: "Night", template: "music" } });
  expect([refused.status(), ((await refused.json()) as { detail: string }).detail]).toEqual([
    403,
    "This API token does not allow “edit”.",
  ]);
  await program.close();
  await owner.getByRole("button", { name: "Sign out" }).first().click();
  await expect(owner).toHaveURL(/\/sign-in/);
  await owner.getByRole("button", { name: "With a passkey" }).click();
  await expect(owner.getByRole("link", { name: "Oriel" })).toBeVisible();
});

test("sign-in, people, account and activity have nothing that accessibility checks find", async ({ browser }) => {
  const entrance = await somebody(browser, "/sign-in");
  expect(await accessibilityFaults(entrance, { all: true })).toEqual([]);
  for (const place of ["/people", "/account", "/activity"]) {
    await owner.goto(place);
    await expect(owner.getByRole("heading", { level: 1 })).toBeVisible();
    await owner.waitForLoadState("networkidle").catch(() => undefined);
    expect([place, await accessibilityFaults(owner, { all: true })]).toEqual([place, []]);
  }
  await entrance.context().close();
});
