import { expect, test } from "@playwright/test";
import { layoutFaults, SIZES } from "./layout";
import { newProject, programme, recording, takeIn } from "./studio";

/** Stages by their keys, and the views that each of them has. */
const STAGES = ["1", "2", "3", "4", "5", "6"];

test("no view cuts, covers or pushes aside what it holds, at three sizes", async ({ page }) => {
  test.setTimeout(240_000);
  await page.setViewportSize(SIZES[0]);
  await newProject(page, "Reed and Weir, a project with a name that is long", "Music");
  await takeIn(page, [
    await recording("Lantern with a very long name for a title.wav", programme(6, 0.4)),
    await recording("Weir.wav", programme(5, 0.3)),
  ]);
  for (const size of SIZES) {
    await page.setViewportSize(size);
    for (const stage of STAGES) {
      await page.keyboard.press(stage);
      const tabs = await page.getByRole("main").getByRole("tab").all();
      for (const tab of tabs.length > 0 ? tabs : [null]) {
        if (tab) await tab.click();
        const where = `${size.width} × ${size.height}, stage ${stage}, ${tab ? await tab.textContent() : "all"}`;
        await expect.poll(() => layoutFaults(page), { message: where }).toEqual([]);
      }
    }
  }
});

test("what is cut, covered or pushed aside is found", async ({ page }) => {
  await page.setContent(`
    <p style="width:40px;overflow:hidden;white-space:nowrap">a long line of words</p>
    <p style="width:40px;overflow:hidden;white-space:nowrap;text-overflow:ellipsis">another long line</p>
    <p title="all of it" style="width:40px;overflow:hidden;white-space:nowrap;text-overflow:ellipsis">a third long line</p>
    <select style="width:50px"><option>a choice with many words</option></select>
    <div style="width:60px;overflow:hidden"><button style="width:200px">wide</button></div>
    <div style="position:relative;height:40px"><button>below</button><div style="position:absolute;inset:0"></div></div>`);
  expect(await layoutFaults(page)).toEqual([
    "cut: p “a long line of words”",
    "cut without a tooltip: p “another long line”",
    "cut at its side: button “wide”",
    "under div “”: button “below”",
    "cut without a tooltip: a choice with many words",
  ]);
});

test("the room is divided by dragging and by keys, folded, and remembered by stage", async ({ page }) => {
  await page.setViewportSize(SIZES[0]);
  await newProject(page, "Weir", "Music");
  await takeIn(page, [await recording("Weir.wav", programme(4, 0.3))]);
  await page.keyboard.press("2");
  const panel = page.getByTestId("stage-panel");
  const meters = page.getByLabel("Meters", { exact: true });
  const height = async () => (await panel.boundingBox())!.height;
  const width = async () => (await meters.boundingBox())!.width;
  const before = await height();

  const line = page.getByRole("separator", { name: "Height of the programme view" });
  const { x, y, width: length } = (await line.boundingBox())!;
  await page.mouse.move(x + length / 2, y);
  await page.mouse.down();
  await page.mouse.move(x + length / 2, y - 80, { steps: 4 });
  await page.mouse.up();
  await expect.poll(height).toBeGreaterThan(before + 70);
  const dragged = await height();
  await line.focus();
  await page.keyboard.press("ArrowDown");
  await expect.poll(height).toBeLessThan(dragged - 10);
  const kept = await height();

  await page.keyboard.press("Shift+F8");
  await expect.poll(width).toBeLessThan(30);
  await page.keyboard.press("3");
  await expect.poll(width).toBeGreaterThan(200);
  await page.keyboard.press("2");
  await expect.poll(width).toBeLessThan(30);
  await page.reload();
  await expect(page.getByTestId("programme").first()).toBeVisible();
  await expect.poll(height).toBeCloseTo(kept, -1);
  await page.getByRole("button", { name: "Unfold the meters" }).click();
  await expect.poll(width).toBeGreaterThan(200);

  await page.keyboard.press("Shift+F7");
  await expect.poll(height).toBeLessThan(2);
  await page.keyboard.press("Shift+F7");
  await expect.poll(height).toBeCloseTo(kept, -1);
});
