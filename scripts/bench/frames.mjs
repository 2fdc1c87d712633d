// Frame times of a page.

export const percentile = (list, share) =>
  list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))];

/** Milliseconds from frame to frame while something is done. The first ones, in which it begins, are left out. */
export async function framesWhile(page, work) {
  await page.evaluate(() => {
    window.frames_ = [];
    let last = performance.now();
    const next = (now) => {
      window.frames_.push(now - last);
      last = now;
      requestAnimationFrame(next);
    };
    requestAnimationFrame(next);
  });
  await work();
  return (await page.evaluate(() => window.frames_)).slice(3);
}
