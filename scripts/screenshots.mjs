// `npm run screenshots -- http://127.0.0.1:4600`: one current picture of each main view, from a running demo.
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { inRoot } from "./paths.mjs";
import { say } from "./say.mjs";

const address = process.argv[2] ?? "http://127.0.0.1:4600";
const picture = (name) => inRoot("docs", "screenshots", `${name}.png`);

const flags = ["--no-sandbox", "--disable-dev-shm-usage", "--autoplay-policy=no-user-gesture-required"];
const browser = await chromium.launch({ executablePath: "/usr/bin/chromium", args: flags });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });

async function openProject(name) {
  await page.goto(address);
  await page.getByRole("link", { name }).click();
  await page.getByTestId("programme").waitFor();
  await page.waitForTimeout(1500);
}

async function shot(name, milliseconds = 500) {
  await page.mouse.move(640, 792);
  await page.waitForTimeout(milliseconds);
  await page.screenshot({ path: picture(name) });
  say(picture(name));
}

await page.goto(address);
await page.getByRole("table").waitFor();
await shot("library");

await openProject(/Saltmarsh/);
await shot("intake");
await page.keyboard.press("5");
await page.getByRole("button", { name: "Low Door", exact: true }).click();
await page.getByTestId("join-step").waitFor();
await shot("sequence");
// Pictures of sound, with a box over them and what is heard of it.
await page.getByRole("button", { name: "Kestrel Weather", exact: true }).click();
await page.keyboard.press("3");
await page.getByTestId("programme").waitFor();
await page.keyboard.press("s");
await page.keyboard.press("Shift+S");
await page.keyboard.press("b");
await page.getByRole("separator", { name: "Height of the programme view" }).focus();
for (let step = 0; step < 4; step++) await page.keyboard.press("ArrowDown");
const lanes = await page.getByTestId("lanes").boundingBox();
await page.mouse.move(lanes.x + 300, lanes.y + 40);
for (let turn = 0; turn < 4; turn++) await page.mouse.wheel(0, -250);
await page.waitForTimeout(1500);
const pictureLane = await page.locator('[data-lane="spectrogram"]').boundingBox();
await page.mouse.move(pictureLane.x + 330, pictureLane.y + 24);
await page.mouse.down();
await page.mouse.move(pictureLane.x + 520, pictureLane.y + pictureLane.height - 30, { steps: 5 });
await page.mouse.up();
await page.keyboard.press("Home");
await page.keyboard.press("t");
await page.keyboard.press("Shift+Space");
await shot("pictures", 2500);
await page.keyboard.press("Control+z");
await page.keyboard.press("s");
await page.keyboard.press("Shift+S");
for (let turn = 0; turn < 2; turn++) await page.keyboard.press("b");
await page.getByRole("separator", { name: "Height of the programme view" }).focus();
for (let step = 0; step < 4; step++) await page.keyboard.press("ArrowUp");
await page.keyboard.press("Escape");
await page.keyboard.press("w");
await page.keyboard.press("2");
await shot("inspect", 1200);
const view = (name) => page.getByRole("tab", { name }).click();
await view("Spectrum");
await page.getByRole("checkbox", { name: /Weir/ }).check();
await view("Figures");
await page.keyboard.press("4");
await page
  .getByTestId("chain")
  .getByRole("button", { name: /Equaliser/ })
  .click();
await page.keyboard.press("Space");
await shot("shape", 5000);
await page.keyboard.press("Space");
await page.keyboard.press("Shift+2");
await page.keyboard.press("o");
await page.keyboard.press("Shift+1");
await page.keyboard.press("a");
await page.getByRole("button", { name: "Close", exact: true }).click();
await page.keyboard.press("o");
await page.keyboard.press("6");
// What was said meanwhile is gone by then.
await shot("deliver", 6000);
// A master to compare with.
const render = page.getByRole("button", { name: /Render what changed/ });
if ((await render.count()) > 0 && (await render.isEnabled())) await render.click();
await page.locator('[data-testid^="cell-"][data-state="verified"]').nth(14).waitFor({ timeout: 600_000 });
await page.getByRole("tab", { name: "Documents and submission" }).click();
const receivers = page.getByTestId("receivers");
await page.getByLabel(/What Longshore Radio, ingest is given/).selectOption("broadcast");
await receivers.getByRole("button", { name: "Submit", exact: true }).last().click();
await page
  .getByTestId("submissions")
  .getByText(/accepted/)
  .first()
  .waitFor({ timeout: 60_000 });
await page.getByLabel(/What Longshore Radio, ingest is given/).selectOption("d1");
await receivers.getByRole("button", { name: "Submit", exact: true }).last().click();
await page
  .getByTestId("submissions")
  .getByText(/refused/)
  .first()
  .waitFor({ timeout: 60_000 });
await page.getByRole("tab", { name: "Board" }).click();
await page.keyboard.press("2");
await view("Compare");
// Of the masters one at the recording's own rate: samples are compared at one rate alone.
await page.getByLabel("Compare with").selectOption({ label: "its master for AES77 music, track" });
await page.getByTestId("difference").waitFor({ timeout: 60_000 });
await shot("compare", 800);
await view("Figures");

await openProject(/Orchard/);
await page.keyboard.press("2");
await page.keyboard.press("p");
await page.keyboard.press("Space");
await shot("immersive", 5000);
await page.getByRole("button", { name: /^Meters:/ }).click();
const [meters] = await Promise.all([
  page.context().waitForEvent("page"),
  page.getByRole("button", { name: /window of their own/ }).click(),
]);
await meters.waitForTimeout(3000);
await meters.screenshot({ path: picture("meters") });
await meters.close();
await page.keyboard.press("Escape");
await page.keyboard.press("Space");
await view("Directions and folds");
await page.getByTestId("folds").getByText("…").first().waitFor({ state: "detached", timeout: 60_000 });
await shot("directions", 800);
await view("Figures");

await openProject(/Low Water/);
await page.getByTestId("picture").waitFor({ timeout: 30_000 });
await page.keyboard.press("Space");
await page.waitForTimeout(4200);
await page.keyboard.press("Space");
await openProject(/Keeper/);
await page.keyboard.press("2");
await page.keyboard.press("p");
await page.keyboard.press("Shift+D");
await shot("dark-sheet", 800);
await page.keyboard.press("Shift+D");
// What lies in the chapter, the retakes taken in by their marks.
await page.keyboard.press("3");
await view("Lists");
const takeIn = page.getByRole("button", { name: /^Take in all [1-9]/ });
await page.getByRole("navigation", { name: "Kinds of places" }).getByText("3", { exact: true }).waitFor();
if ((await takeIn.count()) > 0 && (await takeIn.isEnabled())) await takeIn.click();
await page.getByText("Breaths").click();
await page.getByTestId("places").getByRole("listbox").getByRole("option").nth(1).click();
await page.keyboard.press("w");
await shot("editing", 4000);
await view("Proposals");
// A repair that was proposed, and its noise learned from a quiet place.
const proposed = page.getByRole("button", { name: /^Add (this|these)/ });
if ((await proposed.count()) > 0) await proposed.click();
await page.getByTestId("repairs").getByRole("button", { name: /Noise/ }).click();
await page
  .getByTestId("noise-learning")
  .getByRole("button", { name: /^\d:\d\d/ })
  .first()
  .click();
await page.getByRole("button", { name: "Learn from the selection" }).click();
await page.getByText(/All repairs are made/).waitFor({ timeout: 120_000 });
await page.getByTestId("cost").waitFor({ timeout: 120_000 });
await shot("repair", 800);

await page.goto(`${address}/measure`);
const speech = inRoot("demo", "speech");
const readings = readdirSync(speech).map((name) => join(speech, name));
await page.getByTestId("many-files").setInputFiles(readings);
await page.getByLabel("held against").selectOption("mono-speech-19");
await page.getByRole("button", { name: "Clear" }).waitFor({ timeout: 60_000 });
await page.getByRole("button", { name: "Integrated" }).click();
await shot("many");

await page.goto(`${address}/proof`);
await page.getByRole("button", { name: /Prove at/ }).click();
await page.getByText("29 of 29").waitFor({ timeout: 120_000 });
await shot("proof");

await page.goto(`${address}/operations`);
await page.getByLabel("folder").fill("/tmp/second disk/resonum");
await page.getByRole("button", { name: "Back up now" }).click();
await page
  .getByTestId("backups")
  .getByText("GB")
  .or(page.getByTestId("backups").getByText("MB"))
  .first()
  .waitFor({ timeout: 120_000 });
await page.getByText("is asked for").waitFor({ state: "detached" });
await shot("operations");

// What a client sees of a review on a phone; then the people of a studio, which has accounts from here on.
await openProject(/Saltmarsh/);
await page.keyboard.press("6");
await view("Review");
await page.getByRole("button", { name: "Send out for review" }).click();
await page.getByLabel("Message").fill("Side one as it would go out; mind the endings, please.");
await page.getByRole("button", { name: /Make a link/ }).click();
const link = await page.getByLabel("Send this link, which is told this once").inputValue();
const phone = await browser.newPage({ viewport: { width: 390, height: 844 }, hasTouch: true });
await phone.goto(link);
await phone.getByLabel("Your name").fill("Wen Ashdown");
await phone.getByRole("button", { name: "Open" }).click();
await phone.waitForTimeout(15_000); // its copy is made
await phone.getByRole("slider", { name: "Place in the file" }).fill("12");
await phone.getByLabel(/^At /).fill("A little less of the water here?");
await phone.getByRole("button", { name: "Remark" }).click();
await phone.getByRole("button", { name: "Take back" }).waitFor();
await phone.waitForTimeout(800);
await phone.screenshot({ path: picture("review") });
await page.goto(`${address}/people`);
await page.getByRole("textbox", { name: "Name" }).fill("Oriel Fenwick");
await page.getByLabel("E-mail address").fill("oriel@sluice.example");
await page.getByLabel("Password").fill("nine herons over the sluice");
await page.getByRole("button", { name: "Become the owner" }).click();
await page.getByLabel("For whom").fill("Marl, second engineer");
await page.getByRole("button", { name: "Make a link" }).click();
await page.getByRole("button", { name: "Done" }).click();
await page.getByLabel("For whom").fill("Wen, who hears for the label");
await page.getByLabel("Role in the studio").selectOption("guest");
await page.getByLabel("Project", { exact: true }).selectOption({ label: "Orchard at Dusk" });
await page.getByRole("button", { name: "Make a link" }).click();
await page.getByRole("button", { name: "Done" }).click();
await shot("people", 800);
await browser.close();
