/** Any number of recordings: measured in the page or by the server, held against a spec, filtered, stopped, exported. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { Measurer } from "@core/measure";
import { drawingsOf } from "@core/report/drawings";
import { noise } from "@core/testing/signals";
import { UnreadableFormat } from "@ui/workers/measuring";
import { RATE, show } from "../../../tests/components/current-item";
import { answering } from "../../../tests/components/answers";
import { addFiles, clearBatch, useBatch } from "./batch";
import { BatchMeasure } from "./batch-measure";

const saved = vi.hoisted((): { name: string; content: string }[] => []);
const measuring = vi.hoisted(() => ({ inBrowser: vi.fn() }));
vi.mock("@ui/api/save-as", () => ({
  saveAs: (name: string, _type: string, content: string) => void saved.push({ name, content }),
}));
vi.mock(import("@ui/workers/measuring"), async (original) => ({
  ...(await original()),
  measureInBrowser: measuring.inBrowser,
}));

function measuredAt(levelDb: number) {
  const measurer = new Measurer({ sampleRate: RATE, layout: layoutNamed("mono")! });
  measurer.process([noise(2, RATE, levelDb, 1)]);
  return measurer.result();
}
const LOUD = measuredAt(-14);
const SOFT = measuredAt(-40);

const file = (name: string, content = "sound") => new File([content], name);
const rows = () => screen.queryAllByTestId("many-row");
const names = () => rows().map((row) => within(row).getAllByRole("cell")[1]!.textContent);
const settled = () => waitFor(() => expect(useBatch.getState().endedAt).not.toBeNull());
const choose = (...files: File[]) => fireEvent.change(screen.getByTestId("many-files"), { target: { files } });
const spec = () => screen.getByRole("combobox");

beforeEach(() => {
  saved.length = 0;
  vi.spyOn(HTMLElement.prototype, "clientHeight", "get").mockReturnValue(600);
  vi.spyOn(HTMLElement.prototype, "clientWidth", "get").mockReturnValue(1200);
  measuring.inBrowser.mockReset().mockImplementation(async ({ source }: { source: { file: File } }) => {
    const { name } = source.file;
    if (name.endsWith(".mp3")) throw new UnreadableFormat("not read here");
    if (name.startsWith("broken")) throw new Error("The file is cut short.");
    return { ...(name.startsWith("soft") ? SOFT : LOUD), file: { warnings: [] } };
  });
});
afterEach(() => {
  clearBatch();
  useBatch.setState({ spec: "streaming-14" });
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("batch measure", () => {
  it("says what can be dropped where nothing is", () => {
    show(<BatchMeasure />);
    expect(screen.getByText(/Drop files or folders anywhere/)).toBeDefined();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "CSV" }).disabled).toBe(true);
  });

  it("measures what is chosen, passes other files over, and tells what failed in its row", async () => {
    show(<BatchMeasure />);
    choose(file("loud.wav"), file("notes.txt"), file("broken.wav"), file("empty.wav", ""));
    await settled();
    await waitFor(() => expect(names()).toEqual(["loud.wav", "broken.wav", "empty.wav"]));
    expect(rows().map((row) => row.dataset["state"])).toEqual(["done", "failed", "failed"]);
    expect(rows()[0]!.textContent).toContain(LOUD.figures.integratedLufs!.toFixed(1).replace("-", "−"));
    expect(rows()[1]!.textContent).toContain("The file is cut short.");
    expect(rows()[2]!.textContent).toContain("The file is empty.");
    expect(screen.getByTestId("batch-status").textContent).toContain("3 of 3");
  });

  it("asks the server for what the page cannot read, and shows its refusal", async () => {
    const answers = [
      { figures: SOFT.figures, drawings: drawingsOf(SOFT.curves), warnings: ["Its end is missing."] },
      new Error("This is a playlist."),
    ];
    const asked = answering({ "POST measure": () => answers.shift() });
    show(<BatchMeasure />);
    choose(file("soft.mp3"));
    await settled();
    choose(file("list.mp3"));
    await waitFor(() => expect(rows()[1]?.dataset["state"]).toBe("failed"));
    expect(rows()[0]!.textContent).toContain("Its end is missing.");
    expect(rows()[1]!.textContent).toContain("This is a playlist.");
    expect(asked.map(({ path }) => path)).toEqual(["measure", "measure"]);
  });

  it("holds all against another specification at once, or against nothing", async () => {
    show(<BatchMeasure />);
    choose(file("loud.wav"), file("soft.wav"));
    await settled();
    const standings = () => rows().map((row) => within(row).getAllByRole("cell")[0]!.textContent!.trim());
    await waitFor(() => expect(standings()).toEqual(["fails", "fails"]));
    fireEvent.change(spec(), { target: { value: "" } });
    await waitFor(() => expect(standings()).toEqual(["measured", "measured"]));
    fireEvent.change(spec(), { target: { value: "ebu-r128" } });
    await waitFor(() => expect(standings()).toEqual(["fails", "fails"]));
    expect(screen.getByTestId("batch-status").textContent).toContain("2 fail");
  });

  it("finds by name, shows only what fails, and orders by a figure both ways", async () => {
    show(<BatchMeasure />);
    choose(file("soft.wav"), file("loud.wav"), file("broken.wav"));
    await settled();
    await waitFor(() => expect(rows()).toHaveLength(3));
    fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "lou" } });
    await waitFor(() => expect(names()).toEqual(["loud.wav"]));
    fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: "none" } });
    await waitFor(() => expect(screen.getByText("No recording is like that.")).toBeDefined());
    fireEvent.change(screen.getByLabelText("Find by name"), { target: { value: ".wav" } });
    fireEvent.click(screen.getByRole("button", { name: /^Integrated/ }));
    await waitFor(() => expect(names().filter((name) => name !== "broken.wav")).toEqual(["soft.wav", "loud.wav"]));
    fireEvent.click(screen.getByRole("button", { name: /^Integrated/ }));
    await waitFor(() => expect(names().filter((name) => name !== "broken.wav")).toEqual(["loud.wav", "soft.wav"]));
    fireEvent.change(spec(), { target: { value: "" } });
    fireEvent.click(screen.getByRole("checkbox"));
    await waitFor(() => expect(names()).toEqual(["broken.wav"]));
  });

  it("is stopped: what waits and what is under way goes, what was measured stays", async () => {
    show(<BatchMeasure />);
    choose(file("loud.wav"));
    await settled();
    measuring.inBrowser.mockImplementation(
      (_: unknown, signal: AbortSignal) =>
        new Promise((_resolve, reject) => signal.addEventListener("abort", () => reject(new Error("stopped")))),
    );
    addFiles(Array.from({ length: 20 }, (_, n) => file(`more-${n}.wav`)));
    await waitFor(() => expect(screen.getByRole("button", { name: "Stop" })).toBeDefined());
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    await waitFor(() => expect(names()).toEqual(["loud.wav"]));
    fireEvent.click(await screen.findByRole("button", { name: "Clear" }));
    await waitFor(() => expect(rows()).toHaveLength(0));
  });

  it("exports what is shown as CSV, JSON and HTML, with what could not be read", async () => {
    show(<BatchMeasure />);
    choose(file("loud.wav"), file("broken.wav"));
    await settled();
    await waitFor(() => expect(rows()).toHaveLength(2));
    for (const name of ["CSV", "JSON", "HTML"]) fireEvent.click(screen.getByRole("button", { name }));
    expect(saved.map(({ name }) => name)).toEqual(["measured.csv", "measured.json", "measured.html"]);
    expect(saved[0]!.content.trim().split("\n")).toHaveLength(3);
    const json = JSON.parse(saved[1]!.content);
    expect(json["loud.wav"].integratedLufs).toBe(LOUD.figures.integratedLufs);
    expect(json["loud.wav"].verdict.pass).toBe(false);
    expect(json["broken.wav"]).toEqual({ error: "The file is cut short." });
    expect(saved[2]!.content).toContain("<svg");
  });

  it("has the server write the PDF from what is shown", async () => {
    const asked = answering({ "POST reports": {} });
    show(<BatchMeasure />);
    choose(file("loud.wav"));
    await settled();
    fireEvent.click(await screen.findByRole("button", { name: "PDF" }));
    await waitFor(() => expect(saved.map(({ name }) => name)).toEqual(["measured.pdf"]));
    expect(asked.at(-1)!.body).toMatchObject({ spec: "streaming-14", entries: [{ name: "loud.wav" }] });
  });
});
