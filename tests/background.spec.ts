/** What is worked out while nobody waits: figures of items that are not in hand, and what is looked for after intake. */
import { expect, test } from "@playwright/test";
import type { Planar } from "@core/audio/units";
import { newChainEntry } from "@core/processors";
import { noise } from "@core/testing/signals";
import { command, newProject, onlyDeliver, programme, projectOf, recording, takeIn } from "./studio";

const RATE = 44_100;

/** A voice's level over a floor that the shop does not take, with three clicks. */
function chapter(seed: number, clicks = 0): Planar {
  const room = noise(9, RATE, -75, seed);
  programme(7, 0.2, RATE, seed)[0]!.forEach((v, i) => (room[RATE + i]! += v));
  for (let n = 0; n < clicks; n++)
    for (let i = 0; i < 5; i++) room[Math.round((8.2 + 0.2 * n) * RATE) + i]! += i % 2 ? -0.4 : 0.4;
  return [room];
}

test("an item that is not in hand stands on the board as it is after its chain, and says until then what is left out", async ({
  page,
}) => {
  const paths = [];
  for (let n = 1; n <= 2; n++) paths.push(await recording(`Board/Chapter ${n}.wav`, chapter(n), RATE));
  const project = await newProject(page, "The Reed Cutters", "Audiobook");
  await takeIn(page, paths);
  await onlyDeliver(page, project, "audiobook-retail");
  await expect(page.getByTestId("programme")).toBeVisible();
  const item = (await projectOf(page, project)).document.items[1]!;
  await page.keyboard.press("6");
  const cell = page.getByTestId(`cell-${item.id}-audiobook-retail`);
  await expect(cell).toContainText("predicted");
  await command(page, project, {
    type: "addRepairs",
    item: item.id,
    steps: [{ type: "noise", id: "n", enabled: true, regions: [], excludedRegions: [] }],
  });
  await command(page, project, { type: "addProcessor", item: item.id, entry: newChainEntry("leveller", "l") });
  await expect(cell).toContainText("estimate without its repair");
  await expect(cell).not.toContainText("estimate", { timeout: 60_000 });
  const answer = await page.request.get(`/api/projects/${project}`);
  const { itemFigures } = (await answer.json()) as { itemFigures: { figures: { integratedLufs: number } }[] };
  expect(itemFigures).toHaveLength(1);
  // Nobody asked for a master.
  expect((await projectOf(page, project)).masters).toEqual([]);
});

test("clicks are found after intake, stand in Findings with their places, and lead to the repair", async ({ page }) => {
  const project = await newProject(page, "The Reed Cutters", "Music release");
  await takeIn(page, [await recording("Clicks/Chapter.wav", chapter(4, 3), RATE)]);
  // What is found meanwhile does not stop what is heard.
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await page.keyboard.press("2");
  await page.getByRole("tab", { name: /Findings/ }).click();
  const found = page
    .getByTestId("findings")
    .getByRole("listitem")
    .filter({ hasText: /\d clicks/ });
  await expect(found).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await expect(found.getByRole("button", { name: /^0:08\.[246]/ })).toHaveCount(3);
  await found.getByRole("button", { name: "Mend with Clicks" }).click();
  await expect.poll(async () => (await projectOf(page, project)).document.items[0]!.repairs[0]?.type).toBe("clicks");
  await expect(page.getByTestId("step-editor").or(page.getByText("Applies to"))).toBeVisible();
});
