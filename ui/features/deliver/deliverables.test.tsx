import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import { specNamed } from "@core/delivery/specs";
import { answering } from "../../../tests/components/answers";
import { inWorkspace, PROJECT } from "../../../tests/components/current-item";
import { DeliverableDialog } from "./deliverable-dialog";
import { FileNamesView } from "./file-names-view";
import { SpecEditor } from "./spec-editor";

const press = (name: string | RegExp) => userEvent.setup().click(screen.getByRole("button", { name }));
async function retype(label: string | RegExp, text: string) {
  const user = userEvent.setup();
  const field = screen.getByLabelText(label);
  await user.clear(field);
  if (text) await user.type(field, text);
  await user.tab();
}

const specOption = (name: string) =>
  screen
    .getAllByRole("radio", { hidden: true })
    .find((radio) => radio.closest("label")!.querySelector("b")!.textContent === name)!;

describe("adding a deliverable", () => {
  it("fills in the file that its specification asks for", async () => {
    const { document } = inWorkspace(<DeliverableDialog wanted={{ kind: "new" }} onClose={vi.fn()} />, {
      template: "music",
    });
    const spec = specNamed("cd-44-16");
    await userEvent.setup().click(specOption(spec.name));
    await press("Add it");
    const added = document().deliverables.at(-1)!;
    expect(added).toMatchObject({ spec: "cd-44-16", format: { sampleRate: 44_100, bitDepth: "16" } });
  });

  it("changes one that is there, and leaves its file alone", async () => {
    const { document } = inWorkspace(
      <DeliverableDialog
        wanted={{
          kind: "edit",
          deliverable: { id: "d1", spec: "streaming-14", format: newFormat({ sampleRate: 96_000 }) },
        }}
        onClose={vi.fn()}
      />,
      { template: "music" },
    );
    await userEvent.setup().click(specOption(specNamed("ebu-r128").name));
    await press("Keep it");
    expect(document().deliverables[0]).toMatchObject({ id: "d1", spec: "ebu-r128", format: { sampleRate: 96_000 } });
  });

  it("is not added when the sheet is closed", async () => {
    const onClose = vi.fn();
    const { edits } = inWorkspace(<DeliverableDialog wanted={{ kind: "new" }} onClose={onClose} />);
    await userEvent.setup().keyboard("{Escape}");
    expect(onClose).toHaveBeenCalled();
    expect(edits).toEqual([]);
  });
});

describe("an own specification", () => {
  const own = { ...specNamed("ebu-r128"), id: "own-broadcast", name: "Harbour Radio" };
  const shown = () => {
    const onKept = vi.fn();
    return { onKept, ...inWorkspace(<SpecEditor spec={own} isNew onClose={vi.fn()} onKept={onKept} />) };
  };

  it("is kept with the project, with its target and its limits", async () => {
    const { document, onKept } = shown();
    await retype(/^Target, LUFS/, "−20");
    await retype("Highest of limit 1", "-19,5");
    await press("Keep it");
    const [spec] = document().specs;
    expect(spec).toMatchObject({ id: "own-broadcast", target: -20 });
    expect(spec!.limits[0]!.max).toBe(-19.5);
    expect(onKept).toHaveBeenCalledWith("own-broadcast");
  });

  it("says how far limiting may go, and refuses what is no bound", async () => {
    const { document, edits } = shown();
    await retype("Deepest limiting allowed, dB", "-3");
    await press("Keep it");
    expect(screen.getByRole("alert").textContent).toContain("The deepest limiting allowed lies between 0 and 60 dB");
    expect(edits).toEqual([]);
    await retype("Deepest limiting allowed, dB", "12");
    await retype("Loudness that limiting may take, LU", "2,5");
    await press("Keep it");
    expect(document().specs[0]).toMatchObject({ maxLimitingDb: 12, maxLimitingLossLu: 2.5 });
  });

  it("has the usual bound where one is emptied", async () => {
    const { document } = shown();
    await retype("Deepest limiting allowed, dB", "");
    await press("Keep it");
    expect(document().specs[0]!.maxLimitingDb).toBe(8);
  });

  it("has no limit on the side that is emptied", async () => {
    const { document } = shown();
    expect(screen.getByLabelText<HTMLInputElement>("Lowest of limit 1").value).not.toBe("");
    await retype("Lowest of limit 1", "");
    await press("Keep it");
    expect(document().specs[0]!.limits[0]).not.toHaveProperty("min");
  });

  it("gives up what is no number", async () => {
    const { document } = shown();
    await retype(/^Target, LUFS/, "loud");
    await press("Keep it");
    expect(document().specs[0]!.target).toBe(own.target);
  });

  it("is not kept with a name that is empty: the reason is told, nothing is lost", async () => {
    const { edits, onKept } = shown();
    await retype("Name", "");
    await press("Keep it");
    expect(edits).toEqual([]);
    expect(onKept).not.toHaveBeenCalled();
    expect(screen.getByRole("dialog").textContent).toMatch(/name/i);
    await retype("Name", "Quay Radio");
    await press("Keep it");
    expect(edits).toHaveLength(1);
  });

  it("gains and loses limits", async () => {
    const { document } = shown();
    const before = own.limits.length;
    await press("Limit");
    await userEvent.setup().selectOptions(screen.getByLabelText(`Figure of limit ${before + 1}`), "noiseFloorDbfs");
    await press("Remove limit 1");
    await press("Keep it");
    expect(document().specs[0]!.limits).toHaveLength(before);
    expect(document().specs[0]!.limits.at(-1)!.figure).toBe("noiseFloorDbfs");
  });
});

describe("what masters say of themselves", () => {
  it("has a cover for each item beside that of the whole, which is taken away again", async () => {
    const { document } = inWorkspace(<FileNamesView />, { items: 2 });
    const picture = new File([new Uint8Array([1, 2, 3])], "episode.png", { type: "image/png" });
    const hash = "c".repeat(64);
    answering({ [`POST projects/${PROJECT}/photos`]: { hash } });
    await userEvent.setup().upload(screen.getByLabelText("Cover of item 2"), picture);
    await screen.findByAltText("Cover of item 2");
    expect(document().items.map(({ about }) => about?.cover)).toEqual([undefined, hash]);
    await press("Remove the cover of item 2");
    expect(document().items[1]!.about!.cover).toBeUndefined();
  });

  it("is kept field by field, when the field is left", async () => {
    const { document, edits } = inWorkspace(<FileNamesView />, { items: 2 });
    await retype("Artist, author or speaker", "Ines Okafor");
    await retype("composer of item 2", "Tomas Reed");
    await retype("Title of item 1", "The Ferry");
    expect(edits.map(({ type }) => type)).toEqual(["describeProject", "describeItem", "renameItem"]);
    expect(document().about.artist).toBe("Ines Okafor");
    expect(document().items[1]!.about!.composer).toBe("Tomas Reed");
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: "Notes of item 1" }));
    await user.type(screen.getByLabelText("Notes of item 1, text"), "Recorded at the weir");
    await user.keyboard("{Escape}");
    expect(document().items[0]!.about!.comment).toBe("Recorded at the weir");
    expect(document().items[0]!.name).toBe("The Ferry");
  });

  it("is not kept where a code cannot be one", async () => {
    const { edits } = inWorkspace(<FileNamesView />);
    await retype("ISRC of item 1", "not a code");
    await retype("Barcode", "123");
    expect(edits).toEqual([]);
    expect(screen.getByLabelText<HTMLInputElement>("Barcode").value).toBe("");
  });

  it("an item keeps its name where the field is emptied", async () => {
    const { edits } = inWorkspace(<FileNamesView />);
    await retype("Title of item 1", "");
    expect(edits).toEqual([]);
  });
});

describe("names of files", () => {
  const names = () =>
    within(screen.getByTestId("names"))
      .getAllByRole("listitem")
      .map((row) => row.title);

  it("follow the pattern while it is typed, and are kept when it is left", async () => {
    const { document } = inWorkspace(<FileNamesView />, { items: 2, template: "broadcast" });
    const user = userEvent.setup();
    const field = screen.getByLabelText("Pattern of file names");
    await user.clear(field);
    await user.type(field, "{{track} {{title}");
    expect(names()[0]).toMatch(/^0?1 Chapter 1/);
    await user.tab();
    expect(document().naming).toBe("{track} {title}");
  });
  it("say which words mean nothing, and which names clash", async () => {
    inWorkspace(<FileNamesView />, { items: 2 });
    const user = userEvent.setup();
    const field = screen.getByLabelText("Pattern of file names");
    await user.clear(field);
    await user.type(field, "same {{colour}");
    expect(screen.getByText(/\{colour\} means nothing/)).toBeTruthy();
    expect(screen.getByText(/Some names come up more than once/)).toBeTruthy();
    expect(new Set(names()).size).toBe(names().length);
  });
});
