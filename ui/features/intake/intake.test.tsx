import { act, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { toast } from "sonner";
import { layoutNamed } from "@core/audio/layout";
import type { Command } from "@core/project/commands";
import { newRepairStep } from "@core/repair";
import type { WaitingUpload } from "@core/project/views";
import { useUploads, type FileUpload } from "@ui/api/uploads";
import { pickAll } from "@ui/state/picked";
import { useWorkspace } from "@ui/state/workspace-store";
import { answering } from "../../../tests/components/answers";
import { inWorkspace } from "../../../tests/components/current-item";
import { IntakeStage } from "./intake-stage";

const HASH = "a".repeat(64);
const PROJECT = "00000000-0000-4000-8000-000000000001";
afterEach(() => {
  vi.unstubAllGlobals();
  useUploads.setState({ uploads: [] });
});

const upload = (more: Partial<WaitingUpload>): WaitingUpload => ({
  id: "u1",
  name: "Ferry.wav",
  bytes: 1000,
  received: 250,
  duplicateOf: null,
  ...more,
});
const sending = (more: Partial<FileUpload>): FileUpload =>
  ({
    key: "k1",
    project: PROJECT,
    name: "Ferry.wav",
    bytes: 4_000_000,
    lastModified: 1,
    sent: 1_000_000,
    pace: 500_000,
    state: "sending",
    problem: null,
    ...more,
  }) as FileUpload;
const press = (name: string | RegExp) => userEvent.setup().click(screen.getByRole("button", { name }));

describe("a recording that is read", () => {
  it("tells its length, rate, encoding, layout and size", () => {
    inWorkspace(<IntakeStage />);
    const row = screen.getByTestId("source");
    for (const words of ["0:06.0", "48 kHz", "32-bit float", "mono"]) expect(row.textContent).toContain(words);
    expect(within(row).getByLabelText("Download the original of Low Door.wav").getAttribute("href")).toBe(
      `/api/sources/${HASH}`,
    );
  });
  it("tells what was wrong with it without refusing it", () => {
    inWorkspace(<IntakeStage />, { source: { warnings: ["3 samples were no numbers."] } });
    expect(screen.getByText("3 samples were no numbers.")).toBeTruthy();
  });
  it("asks for the layout of many channels where nothing told it", () => {
    inWorkspace(<IntakeStage />, {
      channels: 2,
      source: { layout: layoutNamed("stereo")!, warnings: ["It does not say which channel is which."] },
    });
    // Two channels are left and right.
    expect(screen.queryByRole("button", { name: /Say which channel is which/ })).toBeNull();
  });
});

describe("which channel is which", () => {
  async function asking() {
    const asked = answering({});
    const shown = inWorkspace(<IntakeStage />, { channels: 6, source: { layout: layoutNamed("5.1")! } });
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: "5.1" }));
    return { asked, shown, user };
  }
  const labels = () => screen.getAllByLabelText<HTMLInputElement>(/^Label of channel/).map(({ value }) => value);

  it("is told by a layout and the order in which the file keeps it", async () => {
    const { asked, user } = await asking();
    expect(screen.getByLabelText<HTMLSelectElement>("Order of the channels").value).toBe("SMPTE, BS.2051, ADM");
    await user.selectOptions(screen.getByLabelText("Order of the channels"), "film");
    expect(labels()).toEqual(["L", "C", "R", "Ls", "Rs", "LFE"]);
    await user.click(screen.getByRole("button", { name: "Apply and measure" }));
    const put = asked.find(({ method }) => method === "PUT")!;
    expect(put.path).toBe(`sources/${HASH}/layout`);
    expect((put.body as { layout: { name: string } }).layout.name).toBe("5.1, film order");
  });

  it("that a person arranges has no order with a name", async () => {
    const { user } = await asking();
    await user.click(screen.getByLabelText("Channel 1 later"));
    expect(labels().slice(0, 2)).toEqual(["R", "L"]);
    expect(screen.getByLabelText<HTMLSelectElement>("Order of the channels").value).toBe("");
  });

  it("can be heard: one channel alone, by a click", async () => {
    const { user } = await asking();
    await user.click(screen.getByLabelText("Hear channel 4 alone"));
    expect(useWorkspace.getState().monitor.solo).toEqual([3]);
    await user.click(screen.getByLabelText("Close"));
    expect(useWorkspace.getState().monitor.solo).toEqual([]);
  });
});

describe("a file of several sound tracks", () => {
  const tracks = [
    { encoding: "AAC", channels: 2, language: "deu", title: null },
    { encoding: "AC-3", channels: 6, language: "fra", title: "Commentary" },
  ];
  it("tells which is used, and another is chosen", async () => {
    const asked = answering({});
    inWorkspace(<IntakeStage />, { source: { tracks, start_seconds: 36_000.48 } });
    const choice = screen.getByLabelText<HTMLSelectElement>("Sound track");
    expect([...choice.options].map(({ text }) => text)).toEqual([
      "track 1, German, 2 channels, AAC",
      "track 2, Commentary, French, 6 channels, AC-3",
    ]);
    await userEvent.setup().selectOptions(choice, "1");
    expect(asked).toEqual([{ method: "PUT", path: `sources/${HASH}/track`, body: { track: 1 } }]);
    expect(screen.getByText(/from 10:00:00/)).toBeTruthy();
  });

  it("says whose cuts and repairs were made on the track before", async () => {
    const warned = vi.spyOn(toast, "warning");
    answering({});
    const prepare: Command[] = [{ type: "addRepairs", item: "item-1", steps: [newRepairStep("hum", "r")] }];
    inWorkspace(<IntakeStage />, { source: { tracks, start_seconds: null }, prepare });
    await userEvent.setup().selectOptions(screen.getByLabelText("Sound track"), "1");
    await waitFor(() => expect(warned).toHaveBeenCalledOnce());
    expect(warned.mock.calls[0]![1]!.description).toContain("listen through “");
  });
});

describe("a recording that cannot be read", () => {
  it("says why, and is read again when asked", async () => {
    const asked = answering({});
    inWorkspace(<IntakeStage />, { source: { state: "failed", problem: "The file is cut short." } });
    expect(screen.getByText("The file is cut short.")).toBeTruthy();
    await press(/Read again/);
    expect(asked).toEqual([{ method: "POST", path: `sources/${HASH}/prepare`, body: undefined }]);
  });
});

describe("a recording that is being read", () => {
  it("tells its place in the queue, and can be cancelled", async () => {
    const asked = answering({});
    inWorkspace(<IntakeStage />, { source: { state: "waiting" } });
    expect(screen.getByRole("progressbar", { name: "Reading Low Door.wav" })).toBeTruthy();
    await press(/Cancel/);
    expect(asked[0]).toMatchObject({ method: "DELETE", path: `sources/${HASH}/prepare` });
  });
});

describe("a file that is sent", () => {
  it("tells how far it is, how fast and for how long", () => {
    inWorkspace(<IntakeStage />);
    useUploads.setState({ uploads: [sending({})] });
    return waitFor(() => {
      const row = screen.getByTestId("sending");
      expect(row.textContent).toMatch(/1\.0 MB of 4\.0 MB · 500(\.0)? kB\/s · .*6 s left/);
    });
  });
  it("that failed says why and can be dismissed", async () => {
    inWorkspace(<IntakeStage />);
    useUploads.setState({ uploads: [sending({ state: "failed", problem: "The disk is full." })] });
    await waitFor(() => expect(screen.getByText("The disk is full.")).toBeTruthy());
    await press(/Dismiss/);
    expect(useUploads.getState().uploads).toEqual([]);
  });
  it("of another project is not shown", () => {
    useUploads.setState({ uploads: [sending({ project: "other" })] });
    inWorkspace(<IntakeStage />);
    expect(screen.queryByTestId("sending")).toBeNull();
  });
});

describe("an upload that waits", () => {
  it("was interrupted: says how far it came, and is discarded when asked", async () => {
    const asked = answering({});
    inWorkspace(<IntakeStage />, { view: { uploads: [upload({})] } });
    expect(screen.getByText(/Interrupted at 25 %/)).toBeTruthy();
    await press(/Discard/);
    expect(asked[0]).toMatchObject({ method: "DELETE", path: `projects/${PROJECT}/uploads`, body: { upload: "u1" } });
  });
  it("is of a recording that broke off: what arrived becomes an item", async () => {
    const asked = answering({});
    inWorkspace(<IntakeStage />, { view: { uploads: [upload({ bytes: 0, received: 96_000 })] } });
    await press("Import what arrived");
    expect(asked[0]).toMatchObject({ method: "POST", body: { upload: "u1" } });
  });
  it("is what the project has already: asks whether a second item is wanted", async () => {
    const asked = answering({});
    inWorkspace(<IntakeStage />, { view: { uploads: [upload({ duplicateOf: "Low Door" })] } });
    expect(screen.getByText(/In the project already, as “Low Door”. Nothing was added/)).toBeTruthy();
    await press("Add a second item");
    expect(asked[0]).toMatchObject({ method: "POST", body: { upload: "u1" } });
  });
  it("stands once, while it is being sent again", () => {
    useUploads.setState({ uploads: [sending({ bytes: 1000, sent: 250 })] });
    inWorkspace(<IntakeStage />, { view: { uploads: [upload({})] } });
    expect(screen.queryByTestId("interrupted")).toBeNull();
    expect(screen.getAllByTestId("sending")).toHaveLength(1);
  });
});

describe("an empty project", () => {
  it("says what to do, and opens the recorder", async () => {
    inWorkspace(<IntakeStage />, { items: 0, view: { sources: [] } });
    expect(screen.getByText(/No recordings yet/)).toBeTruthy();
    await press(/Record/);
    expect(useWorkspace.getState().dialog).toBe("record");
  });
});

describe("several recordings", () => {
  it("are picked, and their items leave the order in one edit; the recordings stay", async () => {
    const { document, edits } = inWorkspace(<IntakeStage />, {
      items: 2,
      prepare: [
        {
          type: "addSource",
          source: { hash: "b".repeat(64), name: "Reed.wav" },
          item: { id: "reed", name: "Reed", source: "b".repeat(64), repairs: [], chain: [], markers: [] },
        },
      ],
    });
    act(() =>
      pickAll(
        "recordings",
        document().sources.map(({ hash }) => hash),
      ),
    );
    await press("Take 3 items out of the order");
    expect(document().items).toEqual([]);
    expect(document().sources).toHaveLength(2);
    expect(edits.map(({ type }) => type)).toEqual(["removeItems"]);
  });
  it("have nothing to do for one alone", () => {
    const { document } = inWorkspace(<IntakeStage />);
    act(() =>
      pickAll(
        "recordings",
        document().sources.map(({ hash }) => hash),
      ),
    );
    expect(screen.queryByRole("toolbar")).toBeNull();
  });
});
