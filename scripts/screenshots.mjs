// `npm run screenshots -- http://127.0.0.1:4600`: one current picture of each main view, from a running demo.
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
await page.getByRole("button", { name: "Kestrel Weather" }).click();
await shot("sequence");
await page.keyboard.press("2");
await shot("inspect", 1200);
await page.keyboard.press("3");
const box = await page.getByTestId("programme").boundingBox();
await page.mouse.move(box.x + 300, box.y + 120);
await page.mouse.down();
await page.mouse.move(box.x + 470, box.y + 120, { steps: 5 });
await page.mouse.up();
await shot("repair");
await page.keyboard.press("Escape");
await page.keyboard.press("4");
await page.getByRole("button", { name: /^Limiter/ }).click();
await page.keyboard.press("Space");
await shot("shape", 5000);
await page.keyboard.press("Space");
await page.keyboard.press("6");
await shot("deliver", 1500);
await page.keyboard.press("h");
await shot("history", 800);

await openProject(/Orchard/);
await page.keyboard.press("2");
await page.keyboard.press("p");
await page.keyboard.press("Space");
await shot("immersive", 5000);

await openProject(/Keeper/);
await page.keyboard.press("2");
await page.keyboard.press("p");
await page.keyboard.press("Shift+D");
await shot("dark-sheet", 800);
await browser.close();
