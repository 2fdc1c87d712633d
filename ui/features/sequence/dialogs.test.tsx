import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { openSoundFile } from "@core/files/open";
import { memorySource } from "@core/files/bytes";
import { placementOf } from "@core/programme/placement";
import type { Command } from "@core/project/commands";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, measuredFigures, OVERVIEW, place, RATE } from "../../../tests/components/current-item";
import { ConsistencyDialog } from "./consistency-dialog";
import { MadeItem } from "./made-item";
import { OrderProposalsDialog } from "./order-proposals-dialog";
import { ProgrammeMarkers } from "./programme-markers";
import { ReplaceDialog } from "./replace-dialog";

const sent = vi.hoisted(() => ({ files: [] as File[] }));
vi.mock("@ui/api/uploads", async (original) => ({
  ...(await original<object>()),
  uploadFiles: (_: string, files: File[]) => Promise.resolve(void sent.files.push(...files)),
}));
vi.mock("./fit-ends", async (original) => ({
  ...(await original<object>()),
  withFittedEnds: ({ id, name }: { id: string; name: string }) =>
    id === "item-2"
      ? Promise.reject(new Error(`“${name}” has no half second of room alone.`))
      : Promise.resolve([{ kind: "recording", start: 100, end: 2000 }]),
}));
vi.mock("@ui/state/listening-engine", () => ({
  useEngineState: () => ({ playing: false }),
  engine: () => ({
    state: { playing: false },
    position: 0,
    seek: vi.fn(),
    pause: vi.fn(),
    subscribe: () => () => undefined,
    playStretch: () => Promise.resolve(),
  }),
}));

beforeEach(() => {
  sent.files.length = 0;
  vi.stubGlobal("fetch", () => Promise.reject(new Error("no server")));
  vi.stubGlobal("Worker", AlignedWorker);
});

/** Answers that the later recording lies 480 frames later, with nothing cut out. */
class AlignedWorker {
  onmessage: ((event: { data: unknown }) => void) | null = null;
  postMessage(): void {
    const map = { stretches: [{ start: 0, end: 6 * RATE, shift: 480 }], gainDb: 3, inverted: false, likeness: 1 };
    queueMicrotask(() => this.onmessage?.({ data: { type: "done", map } }));
  }
  terminate(): void {}
}

const closed = vi.fn();

describe("later recordings", () => {
  it("are sent where files are chosen, and listed once they are items", async () => {
    inWorkspace(<ReplaceDialog onClose={closed} />, { ...OVERVIEW, items: 2 });
    expect(screen.getByText(/appear here once they are sent/)).toBeTruthy();
    const file = new File(["x"], "bounce.wav");
    await userEvent.setup().upload(screen.getByTestId("replace-input"), file);
    expect(sent.files.map(({ name }) => name)).toEqual(["bounce.wav"]);
  });
  it("take the place of what they belong to in one edit, moved along by how they lie", async () => {
    const { document, edits, arrive } = inWorkspace(<ReplaceDialog onClose={closed} />, {
      ...OVERVIEW,
      items: 1,
      prepare: [{ type: "addMarkers", item: "item-1", markers: [{ id: "m", kind: "mark", name: "in", start: 1000 }] }],
    });
    arrive(LATE);
    const user = userEvent.setup();
    await user.selectOptions(screen.getByLabelText("What bounce belongs to"), "item-1");
    // What each deliverable will be is told before anything is taken in, against what it is now.
    const verdicts = screen.getAllByTitle(/: (inside|close|outside), .+; before (inside|close|outside)/);
    expect(verdicts).toHaveLength(document().deliverables.length);
    expect((screen.getByText(/Take in/) as HTMLButtonElement).disabled).toBe(true);
    await user.click(screen.getByText("Lay them on each other"));
    await screen.findByText(/\+480 samples, −3\.0 dB/);
    await user.click(screen.getByText("Take in 1"));
    await waitFor(() => expect(document().items).toHaveLength(1));
    expect(document().items[0]!.markers[0]!.start).toBe(1480);
    expect(document().items[0]!.clips).toEqual([{ kind: "recording", start: 480, end: 6 * RATE }]);
    expect(edits.filter(({ type }) => type === "replaceRecordings")).toHaveLength(1);
  });
  it("leave the earlier beside as a reference that lies on them, where that is wanted", async () => {
    const { document, arrive } = inWorkspace(<ReplaceDialog onClose={closed} />, { ...OVERVIEW, items: 1 });
    arrive(LATE);
    const user = userEvent.setup();
    await user.selectOptions(screen.getByLabelText("What bounce belongs to"), "item-1");
    await user.click(screen.getByLabelText(/Lay the earlier recordings beside/));
    await user.click(screen.getByText("Lay them on each other"));
    await screen.findByText(/\+480 samples/);
    await user.click(screen.getByText("Take in 1"));
    // The item begins with the later recording's frame 480, which is the earlier one's first.
    await waitFor(() =>
      expect(document().programme.references).toMatchObject([{ item: "item-1", source: "a".repeat(64), atSeconds: 0 }]),
    );
  });
  it("stand beside the main one as a mix without being laid on it", async () => {
    const { document, arrive } = inWorkspace(<ReplaceDialog onClose={closed} />, { ...OVERVIEW, items: 1 });
    arrive(LATE);
    const user = userEvent.setup();
    await user.selectOptions(screen.getByLabelText("What bounce belongs to"), "item-1");
    await user.selectOptions(screen.getByLabelText("What bounce becomes"), "instrumental");
    expect(screen.getByText("shares the item's cuts")).toBeTruthy();
    await user.click(screen.getByText("Lay them on each other"));
    await screen.findByText("what is done to the item is moved along");
    expect(screen.getByText("0.0 · 0.0")).toBeTruthy();
    await user.click(screen.getByText("Take in 1"));
    await waitFor(() =>
      expect(document().items[0]!.mixes?.map(({ name, shift }) => [name, shift])).toEqual([
        ["main", undefined],
        ["instrumental", 480],
      ]),
    );
  });
});

/** A later recording, as an upload that is read comes in. */
const LATE: Command = {
  type: "addSource",
  source: { hash: "a".repeat(64), name: "bounce.wav" },
  item: { id: "late", name: "bounce", source: "a".repeat(64), repairs: [], chain: [], markers: [] },
};

describe("heads and tails", () => {
  const ends = { headRoomToneSeconds: 2, tailRoomToneSeconds: 2, headSilenceSeconds: 0.5, tailSilenceSeconds: 0 };
  const ROOM = { source: { ...OVERVIEW.source, figures: { ...measuredFigures(), ...ends } } };

  it("are told by what would be done, and set in one edit; what cannot be made is said", async () => {
    const { document, edits } = inWorkspace(<ConsistencyDialog onClose={closed} />, { ...ROOM, items: 3 });
    const user = userEvent.setup();
    const panel = within(screen.getByLabelText("Heads and tails"));
    const lines = panel.getAllByRole("listitem").map(({ textContent }) => textContent);
    expect(lines).toHaveLength(3);
    expect(lines[0]).toBe("Chapter 1head: take off 1.25 s · tail: put in 1.00 s of this room's tone");
    await user.click(panel.getByText("Set 3"));
    await waitFor(() => expect(edits).toHaveLength(1));
    expect(edits[0]).toMatchObject({ type: "setClipsOfItems", what: "head 0.75 s, tail 3 s of room tone" });
    expect(document().items.map(({ clips }) => clips?.length)).toEqual([1, undefined, 1]);
  });
  it("are proposed anew where other lengths are wanted", async () => {
    inWorkspace(<ConsistencyDialog onClose={closed} />, { ...ROOM, items: 1 });
    const user = userEvent.setup();
    const panel = within(screen.getByLabelText("Heads and tails"));
    await user.clear(panel.getByLabelText("Head of all items"));
    await user.type(panel.getByLabelText("Head of all items"), "5{Enter}");
    expect(panel.getByRole("listitem").textContent).toContain(
      "head: take off 0.50 s, put in 3.50 s of this room's tone",
    );
  });
  it("are not told of items in which nothing stands out of the room", () => {
    inWorkspace(<ConsistencyDialog onClose={closed} />, { ...OVERVIEW, items: 2 });
    expect(screen.getByText(/at an end of 2 items/)).toBeTruthy();
  });
});

describe("made items", () => {
  it("are sent as files of the length, level and kind that were chosen", async () => {
    inWorkspace(<MadeItem />, { items: 1 });
    const user = userEvent.setup();
    await user.click(screen.getByText("Made item …"));
    await user.selectOptions(screen.getByLabelText("Sound"), "leader");
    expect((screen.getByLabelText("Length of the made item") as HTMLInputElement).value).toBe("8");
    await user.clear(screen.getByLabelText("Length of the made item"));
    await user.type(screen.getByLabelText("Length of the made item"), "4{Enter}");
    await user.click(screen.getByText("Make it"));
    await waitFor(() => expect(sent.files).toHaveLength(1));
    const [file] = sent.files;
    expect(file!.name).toBe("Leader of beeps.wav");
    const bytes = await new Promise<ArrayBuffer>((resolve) => {
      const reader = new FileReader();
      reader.onload = () => resolve(reader.result as ArrayBuffer);
      reader.readAsArrayBuffer(file!);
    });
    const sound = (await openSoundFile(memorySource(new Uint8Array(bytes))))!;
    expect([sound.frames, sound.sampleRate, sound.channels]).toEqual([4 * RATE, RATE, 1]);
  });
  it("have no level and no frequency where they are silent", async () => {
    inWorkspace(<MadeItem />, { items: 1 });
    const user = userEvent.setup();
    await user.click(screen.getByText("Made item …"));
    await user.selectOptions(screen.getByLabelText("Sound"), "silence");
    expect(screen.queryByLabelText("Level of the made item")).toBeNull();
    expect(screen.queryByLabelText("Frequency of the made item")).toBeNull();
  });
});

describe("proposals for the order", () => {
  it("are tried without being kept, and taken as one edit", async () => {
    const { document, edits } = inWorkspace(<OrderProposalsDialog onClose={closed} />, {
      ...OVERVIEW,
      items: 3,
      prepare: [place("item-2", { gainDb: -12, gapSeconds: 1 }), place("item-3", { gapSeconds: 1 })],
    });
    const steps = within(screen.getByTestId("proposal-steps"));
    const user = userEvent.setup();
    await user.click(steps.getByText("Hear it"));
    expect(useWorkspace.getState().pendingPlacements!.map(({ item }) => item)).toContain("item-2");
    expect(edits).toEqual([]);
    await user.click(steps.getByText("Stop"));
    expect(useWorkspace.getState().pendingPlacements).toBeNull();
    await user.click(steps.getByText("Take it"));
    expect(edits).toHaveLength(1);
    const gains = document().items.map((item) => placementOf(item).gainDb);
    expect(gains[1]! - gains[0]!).toBeGreaterThan(-5);
  });
  it("say that nothing is proposed", () => {
    inWorkspace(<OrderProposalsDialog onClose={closed} />, {
      ...OVERVIEW,
      items: 2,
      prepare: [place("item-2", { gapSeconds: -1 })],
    });
    expect(screen.getByText(/nothing is proposed/)).toBeTruthy();
  });
});

it("items against each other tell the one that lies apart first, after its chain", () => {
  inWorkspace(<ConsistencyDialog onClose={closed} />, {
    ...OVERVIEW,
    items: 4,
    prepare: [{ type: "addProcessor", item: "item-3", entry: { type: "gain", id: "g", bypass: false, gainDb: -9 } }],
  });
  const [, , first, second] = within(screen.getByTestId("consistency")).getAllByRole("row");
  expect(first!.textContent).toContain("Chapter 3");
  expect(first!.textContent).toContain("▲");
  expect(second!.textContent).not.toContain("▲");
});

it("markers of the programme are renamed and taken away", async () => {
  const { document } = inWorkspace(<ProgrammeMarkers />, {
    items: 1,
    prepare: [{ type: "addProgrammeMarkers", markers: [{ id: "m", name: "turn", start: 2.5 }] }],
  });
  const user = userEvent.setup();
  await user.clear(screen.getByLabelText("Name of the marker at 0:02.5"));
  await user.type(screen.getByLabelText("Name of the marker at 0:02.5"), "side two{Enter}");
  expect(document().programme.markers[0]!.name).toBe("side two");
  await user.click(screen.getByLabelText("Remove the marker side two"));
  expect(screen.getByText(/none yet/)).toBeTruthy();
});
