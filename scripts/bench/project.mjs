/** A new project with one recording taken in, open on a page; how long from the drop of the recording to its figures. */
export async function projectWith(page, address, name, template, path) {
  const made = await page.request.post(`${address}/api/projects`, { data: { name, template } });
  const { id } = await made.json();
  await page.goto(`${address}/projects/${id}`);
  await page.getByTestId("file-input").waitFor({ state: "attached" });
  const began = Date.now();
  await page.getByTestId("file-input").setInputFiles(path);
  await page.locator('[data-testid="source"][data-state="ready"]').waitFor({ timeout: 3_600_000 });
  await page.getByTestId("programme").waitFor();
  return { id, intakeSeconds: (Date.now() - began) / 1000 };
}
