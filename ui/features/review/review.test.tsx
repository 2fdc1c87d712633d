import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Remark, ReviewFile, ReviewVerdict, ReviewView } from "@core/review/views";
import { answering } from "../../../tests/components/answers";
import { inWorkspace, PROJECT, show } from "../../../tests/components/current-item";
import { OpenReviews } from "../library/open-reviews";
import { Decision } from "./decision";
import { MemberReview } from "./member-review";
import { OpenedReview } from "./opened-review";
import { Outline } from "./outline";
import { Remarks } from "./remarks";
import { ReviewPage } from "./review-page";
import { ReviewsView } from "./reviews-view";

afterEach(() => vi.unstubAllGlobals());

const HASH = "a".repeat(64);
const FILE: ReviewFile = {
  ...{ position: 0, item_id: "item-1", deliverable_id: "d", title: "Low Door", label: "Streaming −14 · WAV" },
  ...{ file_name: "Low Door.wav", media_type: "audio/wav", file_hash: HASH, seconds: 60, integrated_lufs: -14 },
  ...{ has_copy: true, copy_problem: null, outline: [0.2, 0.9, 0.4] },
};
const remark = (more: Partial<Remark> = {}): Remark => ({
  ...{ id: "r1", position: 0, name: "Wen", at_seconds: 12, end_seconds: null, words: "too loud" },
  ...{ created_at: "2026-12-01T10:00:00Z", answer: null, answered_by: null, resolved_at: null, own: true },
  ...more,
});
const verdict: ReviewVerdict = {
  ...{ position: 0, name: "Wen", approved: true, words: "lovely", file_hash: HASH, created_at: "2026-12-01T10:00:00Z" },
};

class SilentContext {
  readonly destination = {};
  createGain = () => ({ gain: { value: 1 }, connect: () => undefined });
  createMediaElementSource = () => ({ connect: <Node,>(to: Node) => to });
}

describe("a review while its copy is made", () => {
  it("says what plays in one line, before and after, so that nothing moves under a finger", () => {
    vi.stubGlobal("AudioContext", SilentContext);
    const page = (file: ReviewFile) => ({
      ...{ id: "v", title: "Side A", message: "", from: "Marl", name: "Wen", downloads: false, blind: false },
      ...{ expires_at: "2026-12-15T00:00:00Z", files: [file], remarks: [], verdicts: [] },
    });
    const { rerender } = show(<OpenedReview page={page({ ...FILE, has_copy: false })} again={vi.fn()} />);
    const player = screen.getByRole("region", { name: "Player" });
    const lines = () => [...player.querySelectorAll("p")].map(({ textContent }) => textContent);
    expect(lines()).toEqual(["A copy is being made; until then the file itself plays.", FILE.label]);
    rerender(<OpenedReview page={page(FILE)} again={vi.fn()} />);
    expect(lines()).toEqual(["A copy plays; “without loss” takes the file itself.", FILE.label]);
  });
});

describe("remarks of a guest", () => {
  const shown = (remarks: Remark[], time = 5) => {
    const asked = answering({});
    const [onSeek, again] = [vi.fn(), vi.fn()];
    show(<Remarks review="v" file={FILE} remarks={remarks} time={time} onSeek={onSeek} again={again} />);
    return { asked, onSeek, again, user: userEvent.setup() };
  };

  it("are made at the time at which the writing began", async () => {
    const { asked, again, user } = shown([]);
    await user.type(screen.getByLabelText(/^At/), "a click");
    await user.click(screen.getByRole("button", { name: "Remark" }));
    await waitFor(() => expect(again).toHaveBeenCalled());
    expect(asked[0]).toEqual({
      method: "POST",
      path: "review/v/remarks",
      body: { position: 0, at: 5, end: null, words: "a click" },
    });
  });

  it("lead to their place; only own ones that nobody answered are taken back; words are words", async () => {
    const hostile = `<img src=x onerror="alert(1)">`;
    const { onSeek, asked, user } = shown([
      remark({ words: hostile, at_seconds: 12, end_seconds: 14 }),
      remark({ id: "r2", at_seconds: 30, answer: "done", answered_by: "Marl", resolved_at: "2026-12-01T11:00:00Z" }),
      remark({ id: "r3", name: "Ines", own: false, at_seconds: 40 }),
    ]);
    expect(screen.getByText(hostile)).toBeTruthy();
    expect(screen.getByText("resolved")).toBeTruthy();
    expect(screen.getByText(/done/).textContent).toContain("Marl");
    await user.click(screen.getByRole("button", { name: "0:12–0:14" }));
    expect(onSeek).toHaveBeenCalledWith(12);
    await user.click(screen.getByRole("button", { name: "Take back" })); // there is one
    await waitFor(() =>
      expect(asked).toContainEqual({ method: "DELETE", path: "review/v/remarks/r1", body: undefined }),
    );
  });
});

describe("a decision", () => {
  it("is of the bytes that are shown, and those before it stay to be read", async () => {
    const asked = answering({});
    show(<Decision review="v" file={FILE} verdicts={[verdict]} again={vi.fn()} />);
    expect(screen.getByText(/SHA-256 a{16}…/)).toBeTruthy();
    expect(screen.getByText("lovely")).toBeTruthy();
    const user = userEvent.setup();
    await user.type(screen.getByLabelText(/A word with it/), "the ending is cut off");
    await user.click(screen.getByRole("button", { name: "Send back" }));
    await waitFor(() =>
      expect(asked).toContainEqual({
        method: "POST",
        path: "review/v/verdicts",
        body: { position: 0, hash: HASH, approved: false, words: "the ending is cut off" },
      }),
    );
  });
});

describe("the outline", () => {
  it("says where it is in words, and is moved by keys as any slider", () => {
    show(<Outline outline={FILE.outline} seconds={60} time={75} remarks={[remark()]} onSeek={vi.fn()} />);
    expect(screen.getByRole("slider", { name: "Place in the file" }).getAttribute("aria-valuetext")).toBe(
      "1:15 of 1:00",
    );
  });
});

describe("a link for review", () => {
  it("that is closed says so, and asks for nothing", async () => {
    answering({ "POST review/preview": new Error("This review was closed or has expired.") });
    show(<ReviewPage />);
    expect(await screen.findByText("This review was closed or has expired.")).toBeTruthy();
    expect(screen.queryByLabelText("Your name")).toBeNull();
  });

  it("asks for a name, and for the password where there is one", async () => {
    const preview = { id: "v", title: "Side A", from: "Marl", needsPassword: true };
    const asked = answering({
      "POST review/preview": preview,
      "GET review/v": new Error("Open the review by its link first."),
      "POST review/open": new Error("The password is another one."),
    });
    show(<ReviewPage />);
    const user = userEvent.setup();
    await user.type(await screen.findByLabelText(/^Your name/), "Wen");
    await user.type(screen.getByLabelText(/^Password/), "guess");
    await user.click(screen.getByRole("button", { name: "Open" }));
    expect((await screen.findByRole("alert")).textContent).toBe("The password is another one.");
    expect(asked.at(-1)!.body).toMatchObject({ name: "Wen", password: "guess" });
  });
});

describe("a review of one's own project", () => {
  it("is listed in the library, and opened under one's own name without a link", async () => {
    answering({ "GET reviews": [{ id: "v", title: "Side A", from: "Marl", expires_at: "2026-12-15T00:00:00Z" }] });
    const listed = show(<OpenReviews />);
    expect((await screen.findByRole("link", { name: "Side A" })).getAttribute("href")).toBe("/reviews/v");
    expect(screen.getByText(/from Marl, open until 15 December 2026/)).toBeTruthy();
    listed.unmount();
    const page = {
      ...{ id: "v", title: "Side A", message: "", from: "Marl", name: "Rill" },
      downloads: false,
      blind: false,
    };
    const asked = answering({
      "POST reviews/v/enter": { id: "v" },
      "GET review/v": {
        ...page,
        expires_at: "2026-12-15T00:00:00Z",
        files: [{ ...FILE, has_copy: false, copy_problem: "The disk is full." }],
        remarks: [],
        verdicts: [],
      },
    });
    vi.stubGlobal("AudioContext", SilentContext);
    show(<MemberReview review="v" />);
    expect(await screen.findByText("You are here as Rill.")).toBeTruthy();
    expect(screen.getByText(/no copy of it for listening: The disk is full/)).toBeTruthy();
    expect(asked[0]).toMatchObject({ method: "POST", path: "reviews/v/enter" });
  });

  it("that is closed says so", async () => {
    answering({ "POST reviews/v/enter": new Error("This review was closed or has expired.") });
    show(<MemberReview review="v" />);
    expect(await screen.findByText("This review was closed or has expired.")).toBeTruthy();
  });
});

describe("reviews in Deliver", () => {
  const review: ReviewView = {
    ...{ id: "v", title: "Side A", message: "", downloads: true, blind: false, has_password: true },
    ...{ created_by: "Marl", created_at: "2026-12-01T09:00:00Z", withdrawn_at: null, guests: ["Wen"] },
    expires_at: new Date(Date.now() + 5.2 * 86_400_000).toISOString(),
    ...{ files: [FILE], remarks: [remark()], verdicts: [verdict] },
    heard: [{ position: 0, name: "Wen", ranges: [[0, 30]], plays: 3, heard_at: "2026-12-01T10:00:00Z" }],
  };
  const shown = (reviews: ReviewView[]) => {
    const asked = answering({ [`GET projects/${PROJECT}/reviews`]: reviews });
    inWorkspace(<ReviewsView />);
    return { asked, user: userEvent.setup() };
  };

  it("are explained where there is none, and begin with a master", async () => {
    shown([]);
    expect(await screen.findByText(/Nothing was sent out yet/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: /Send out for review/ }).disabled).toBe(true);
    expect(screen.getByText(/Render masters first/)).toBeTruthy();
  });

  it("say what was heard and decided, and that the master is another file now", async () => {
    shown([review]);
    const section = within(await screen.findByRole("region", { name: "Review Side A" }));
    expect(section.getByText(/open for 5 days · password · downloads · opened by Wen/)).toBeTruthy();
    expect(section.getByText(/heard by Wen 50 %, 3 times/)).toBeTruthy();
    expect(section.getByText("approved by Wen; the master is another file now")).toBeTruthy();
  });

  it("have their remarks answered and resolved, and their links closed", async () => {
    const { asked, user } = shown([review]);
    const section = within(await screen.findByRole("region", { name: "Review Side A" }));
    await user.click(section.getByRole("button", { name: "Answer" }));
    await user.type(section.getByLabelText("Answer"), "2 dB less{Enter}");
    const path = `projects/${PROJECT}/remarks/r1`;
    await waitFor(() =>
      expect(asked).toContainEqual({ method: "PATCH", path, body: { answer: "2 dB less", resolved: true } }),
    );
    await user.click(section.getByRole("button", { name: "Resolve" }));
    await waitFor(() => expect(asked).toContainEqual({ method: "PATCH", path, body: { resolved: true } }));
    await user.click(section.getByRole("button", { name: "Close the link" }));
    await waitFor(() =>
      expect(asked).toContainEqual({ method: "DELETE", path: `projects/${PROJECT}/reviews/v`, body: undefined }),
    );
  });
});
