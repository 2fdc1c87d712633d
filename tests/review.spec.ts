/** A client with a link, on a phone and by keys: hears, remarks, compares, approves; and what the engineer sees of it. */
import { devices, expect, test, type Browser, type Page } from "@playwright/test";
import { newChainEntry } from "@core/processors";
import { accessibilityFaults } from "./accessibility";
import { command, newProject, onlyDeliver, programme, projectOf, recording, saved, takeIn } from "./studio";

const PHONE = { ...devices["Pixel 7"], viewport: { width: 390, height: 844 }, defaultBrowserType: undefined };

/** Renders whatever is not rendered as it is now. */
async function render(page: Page): Promise<void> {
  await page.getByRole("tab", { name: "Board" }).click();
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await expect(page.locator('[data-state="busy"]')).toHaveCount(0, { timeout: 60_000 });
  await expect(page.locator('[data-state="verified"]').first()).toBeVisible({ timeout: 60_000 });
}

/** Makes a review by the sheet, and gives its link. */
async function sendOut(
  page: Page,
  settings: { blind?: boolean; all?: boolean; password?: string } = {},
): Promise<string> {
  await page.getByRole("tab", { name: "Review" }).click();
  await page.getByRole("button", { name: "Send out for review" }).click();
  const sheet = page.getByRole("dialog", { name: "Send out for review" });
  await sheet.getByLabel("Message").fill("Mind the ending");
  if (settings.all) for (const box of await sheet.getByRole("group").getByRole("checkbox").all()) await box.check();
  if (settings.blind) await sheet.getByLabel("blind").check();
  if (settings.password) await sheet.getByLabel("Password, if wanted").fill(settings.password);
  await sheet.getByRole("button", { name: /Make a link/ }).click();
  const shown = page.getByLabel("Send this link, which is told this once");
  const link = await shown.inputValue();
  await page.getByRole("button", { name: "Done" }).click();
  return link;
}

async function guest(browser: Browser, link: string, name: string, options = {}): Promise<Page> {
  const page = await (await browser.newContext(options)).newPage();
  await page.goto(link);
  await page.getByLabel("Your name").fill(name);
  await page.getByRole("button", { name: "Open" }).click();
  await expect(page.getByText(`You are here as ${name}`)).toBeVisible();
  return page;
}

test("a client hears a master on a phone, remarks upon it and approves it; an edit makes it another file", async ({
  page,
  browser,
}) => {
  const project = await newProject(page, "Side A", "Music");
  await takeIn(page, [await recording("Low Door.wav", programme(12, 0.4))]);
  await onlyDeliver(page, project, "streaming-14");
  await expect(page.getByTestId("lanes")).toBeVisible();
  await page.keyboard.press("6");
  await render(page);
  const link = await sendOut(page);
  const client = await guest(browser, link, "Wen", PHONE);
  // It plays soon after the press, and where it is pressed it goes; `npm run bench -- review` says how soon.
  await client.getByRole("button", { name: "Play" }).click();
  await expect(client.getByRole("button", { name: "Pause" })).toBeVisible();
  await expect
    .poll(() => client.getByRole("slider", { name: "Place in the file" }).inputValue().then(Number))
    .toBeGreaterThan(0.1);
  await client.getByRole("slider", { name: "Place in the file" }).fill("6");
  await client.getByLabel(/^At /).fill("The hit is too hard here");
  await client.getByRole("button", { name: "Remark" }).click();
  await expect(client.getByText("The hit is too hard here")).toBeVisible();
  await client.getByLabel("A word with it").fill("but it may go out");
  await client.getByRole("button", { name: "Approve" }).click();
  await expect(client.getByText("approved by Wen")).toBeVisible();
  await client.getByRole("button", { name: "Pause" }).click();
  expect(await client.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect(await accessibilityFaults(client, { all: true })).toEqual([]);
  // The engineer sees it as it happens: in Deliver, on the board, in the programme view.
  const review = page.getByRole("region", { name: "Review Side A" });
  await expect(review).toContainText("opened by Wen");
  await expect(review).toContainText("approved by Wen");
  await expect(review).toContainText("“but it may go out”");
  await expect(review).toContainText(/heard by Wen [1-9]/, { timeout: 40_000 });
  await review.getByRole("button", { name: "Answer" }).click();
  await review.getByLabel("Answer").fill("Two dB less from now on");
  await review.getByRole("button", { name: "Answer and resolve" }).click();
  await expect(client.getByText("Two dB less from now on")).toBeVisible({ timeout: 40_000 });
  await review.getByRole("button", { name: "Open again" }).click();
  await review.getByRole("button", { name: /^0:06/ }).click();
  await expect(page.getByRole("button", { name: /Remark of Wen at 0:06/ })).toBeVisible();
  await page.keyboard.press("6");
  await page.getByRole("tab", { name: "Board" }).click();
  await expect(page.getByText("approved by Wen")).toBeVisible();
  const { items } = (await projectOf(page, project)).document;
  const gain = { ...newChainEntry("gain", "g"), gainDb: -3 };
  await command(page, project, { type: "addProcessor", item: items[0]!.id, entry: gain });
  await expect(page.getByText("approved another file by Wen")).toBeVisible();
  await saved(page);
  // Closed, it is heard no more, by an open page neither.
  await page.getByRole("tab", { name: "Review" }).click();
  await review.getByRole("button", { name: "Close the link" }).click();
  await expect(review).toContainText("closed");
  const id = await client.evaluate(() =>
    performance
      .getEntriesByType("resource")
      .map(({ name }) => /api\/review\/([0-9a-f-]{36})/.exec(name)?.[1])
      .find(Boolean),
  );
  expect((await client.request.get(`/api/review/${id}/files/0/sound`)).status()).toBe(410);
  const late = await (await browser.newContext()).newPage();
  await late.goto(link);
  await expect(late.getByText("This review is not open")).toBeVisible();
  await late.context().close();
  await client.context().close();
});

test("two versions stand side by side, by keys, blind and level-matched; a password is asked for", async ({
  page,
  browser,
}) => {
  await newProject(page, "Side B", "Music");
  await takeIn(page, [await recording("Weir.wav", programme(6, 0.4))]);
  await page.keyboard.press("6");
  await render(page);
  const link = await sendOut(page, { blind: true, all: true, password: "otter pond" });
  const client = await (await browser.newContext()).newPage();
  await client.goto(link);
  await client.getByLabel("Your name").fill("Ines");
  await client.getByLabel("Password").fill("wrong one");
  await client.getByRole("button", { name: "Open" }).click();
  await expect(client.getByRole("alert").filter({ hasText: "another one" })).toBeVisible();
  await client.getByLabel("Password").fill("otter pond");
  await client.getByRole("button", { name: "Open" }).click();
  const versions = client.getByRole("group", { name: "Versions" });
  await expect(versions.getByRole("button", { name: "A", exact: true })).toHaveAttribute("aria-pressed", "true");
  await expect(client.getByText("Streaming")).toBeHidden();
  await expect(client.getByRole("link", { name: "Download" })).toBeHidden();
  await client.locator("h1").click();
  await client.keyboard.press("Space");
  await expect(client.getByRole("button", { name: "Pause" })).toBeVisible();
  await client.keyboard.press("ArrowRight");
  await expect
    .poll(() => client.getByRole("slider", { name: "Place in the file" }).inputValue().then(Number))
    .toBeGreaterThan(4.9);
  const before = Number(await client.getByRole("slider", { name: "Place in the file" }).inputValue());
  await client.keyboard.press("b");
  await expect(versions.getByRole("button", { name: "B", exact: true })).toHaveAttribute("aria-pressed", "true");
  // The other version goes on where this one was.
  expect(Number(await client.getByRole("slider", { name: "Place in the file" }).inputValue())).toBeGreaterThanOrEqual(
    before - 0.2,
  );
  await client.context().close();
});
