/** While nothing sounds and nobody does anything, the page does nothing either. */
import { expect, test, type Page } from "@playwright/test";
import { newProject, programme, recording, takeIn } from "./studio";

/** Counts frames that the page asks for. */
async function counted(page: Page): Promise<() => Promise<number>> {
  await page.addInitScript(() => {
    const ask = window.requestAnimationFrame.bind(window);
    const counter = window as unknown as { framesAsked: number };
    counter.framesAsked = 0;
    window.requestAnimationFrame = (callback) => {
      counter.framesAsked++;
      return ask(callback);
    };
  });
  return () =>
    page.evaluate(() => {
      const counter = window as unknown as { framesAsked: number };
      const asked = counter.framesAsked;
      counter.framesAsked = 0;
      return asked;
    });
}

test("an idle project asks for no frame on any stage, and moves again once it plays", async ({ page }) => {
  test.setTimeout(120_000);
  const asked = await counted(page);
  await newProject(page, "Still Water", "Music release");
  await takeIn(page, [
    await recording("Still/Heron.wav", programme(4, 0.3)),
    await recording("Still/Reed.wav", programme(3, 0.3)),
  ]);
  for (const stage of ["2", "3", "4", "5", "6"]) {
    await page.keyboard.press(stage);
    // What is measured in the background is there, and meters have fallen back.
    await expect
      .poll(
        async () => {
          await asked();
          await page.waitForTimeout(2500);
          return asked();
        },
        { timeout: 40_000, message: `stage ${stage}` },
      )
      .toBe(0);
  }
  await page.keyboard.press("2");
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Pause" })).toBeVisible();
  await asked();
  await page.waitForTimeout(1000);
  expect(await asked()).toBeGreaterThan(30);
});
