import { act, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { specNamed } from "@core/delivery/specs";
import { Ring } from "@playback/ring";
import { show } from "../../tests/components/current-item";
import { recorder } from "../../tests/components/canvas-recorder";
import type { Meter, MeterArrangement, MeterKind } from "./arrangement";
import { MeterSourceProvider, type MeterSource } from "./meter-source";
import { MeterStack } from "./meter-stack";

const drawn = recorder();
const wentTo: number[] = [];
const active = new Set<() => void>();
let ring: Ring;

/** A stack of one meter over a ring that the test writes. */
function stack(kinds: MeterKind | MeterKind[], given: Partial<MeterSource> & { layout?: string } = {}) {
  const speakers = layoutNamed(given.layout ?? "stereo")!.speakers;
  ring = Ring.create(speakers.length);
  const source: MeterSource = {
    ring: () => ring,
    speakers,
    sampleRate: 48_000,
    spec: specNamed("ebu-r128") ?? null,
    scale: "LUFS",
    scheme: undefined,
    words: (frame) => `frame ${frame}`,
    goTo: (frame) => void wentTo.push(frame),
    reset: () => {},
    onActivity: (listener) => {
      active.add(listener);
      return () => active.delete(listener);
    },
    ...given,
  };
  const meters = [kinds].flat().map((kind): Meter => ({ kind, size: "medium" }));
  function Stack() {
    const [arrangement, setArrangement] = useState<MeterArrangement>({ name: "Own", scale: "LUFS", meters });
    return (
      <MeterSourceProvider value={source}>
        <MeterStack arrangement={arrangement} onChange={setArrangement} />
      </MeterSourceProvider>
    );
  }
  return show(<Stack />);
}

/** Lets the meters draw. */
const pass = (ms: number): void => act(() => void vi.advanceTimersByTime(ms));
const part = (name: string) => document.querySelector<HTMLElement>(`[data-meter="${name}"]`)!;
const moved = (element: HTMLElement) => Number(/\(([-\d.e]+)/.exec(element.style.transform)![1]);

beforeEach(() => {
  vi.useFakeTimers({
    toFake: ["setTimeout", "clearTimeout", "requestAnimationFrame", "cancelAnimationFrame", "performance"],
  });
  vi.spyOn(HTMLCanvasElement.prototype, "getContext").mockImplementation(function (this: HTMLCanvasElement) {
    return Object.assign(drawn.context, { canvas: this }) as never;
  });
  vi.spyOn(HTMLElement.prototype, "clientWidth", "get").mockReturnValue(200);
  vi.spyOn(HTMLElement.prototype, "clientHeight", "get").mockReturnValue(100);
});
afterEach(() => {
  vi.restoreAllMocks();
  vi.useRealTimers();
  wentTo.length = 0;
});

describe("loudness", () => {
  it("moves its bars, and tells the three windows and the distance from the target", () => {
    stack("loudness");
    ring.setMeter("momentaryLufs", -20);
    ring.setMeter("shortTermLufs", -21.5);
    ring.setMeter("integratedLufs", -23);
    ring.setMeter("rangeLu", 7.2);
    pass(300);
    expect(part("M-text").textContent).toBe("−20.0");
    expect(part("big").textContent).toBe("−21.5");
    expect(part("big-words").textContent).toBe("short-term · 1.5 LU above target");
    expect(part("range").textContent).toBe("7.2 LU");
    expect(moved(part("M"))).toBeGreaterThan(moved(part("S")));
    expect(moved(part("S"))).toBeGreaterThan(moved(part("I")));
  });
  it("is told from the target on where LU are chosen", () => {
    stack("loudness", { scale: "LU" });
    ring.setMeter("integratedLufs", -24.5);
    pass(300);
    expect(part("I-text").textContent).toBe("−1.5");
  });
  it("changes its figures ten times a second, its bars with every frame", () => {
    stack("loudness");
    ring.playing = true;
    pass(200);
    const [texts, places] = [new Set<string>(), new Set<number>()];
    for (let frame = 0; frame < 60; frame++) {
      ring.setMeter("momentaryLufs", -30 + frame / 10);
      pass(16);
      texts.add(part("M-text").textContent);
      places.add(moved(part("M")));
    }
    expect(places.size).toBeGreaterThan(50);
    expect(texts.size).toBeGreaterThanOrEqual(8);
    expect(texts.size).toBeLessThanOrEqual(11);
  });
  it("says that nothing is heard, and goes to where the loudest place was", async () => {
    stack("loudness");
    pass(300);
    expect(part("big").textContent).toBe("−∞");
    expect(part("big-words").textContent).toBe("short-term, of what is heard");
    ring.setMeter("shortTermMaxLufs", -18);
    ring.setMeter("shortTermMaxFrame", 96_000);
    pass(300);
    vi.useRealTimers();
    const where = screen.getByRole("button", { name: "Go to where max S was" });
    expect(where.textContent).toBe("frame 96000");
    await userEvent.setup().click(where);
    expect(wentTo).toEqual([96_000]);
  });
});

describe("true peaks", () => {
  const scheme = { low: "green", near: "yellow", over: "red", nearDb: 3 };
  it.each([
    [-10, "green"],
    [-3.5, "yellow"],
    [-0.5, "red"],
  ])("%d dBTP has the colour of its place against the limit", (level, colour) => {
    stack("peaks", { scheme });
    ring.setChannel(0, level, level, level - 10);
    pass(300);
    expect(part("peak-0").style.background).toBe(colour);
  });
  it("shows the held peak as a mark and a number, and none of silence", () => {
    stack("peaks");
    ring.setChannel(0, -20, -6, -30);
    pass(300);
    const mark = (channel: number) => part(`peak-${channel}`).nextElementSibling as HTMLElement;
    expect(part("peak-0-text").textContent).toBe("−6.0");
    expect(mark(0).style.visibility).toBe("visible");
    expect(moved(mark(0))).toBeCloseTo((100 * 54) / 63, 3);
    expect(moved(part("peak-0"))).toBeCloseTo(40 / 63, 5);
    expect(mark(1).style.visibility).toBe("hidden");
  });
  it("has a bar for each channel of a layout", () => {
    stack("peaks", { layout: "5.1" });
    expect(screen.getAllByRole("meter").map((meter) => meter.getAttribute("aria-label"))).toEqual(
      layoutNamed("5.1")!.speakers.map(({ label }) => `True peak ${label}, dBTP`),
    );
  });
  it("is told to readers of the screen once a second", () => {
    stack("peaks");
    ring.setChannel(0, -12.34, -12.34, -20);
    pass(1500);
    const [first] = screen.getAllByRole("meter");
    expect(first!.getAttribute("aria-valuenow")).toBe("-12.3");
    ring.setChannel(0, -3, -3, -20);
    pass(300);
    expect(first!.getAttribute("aria-valuenow")).toBe("-12.3");
    pass(1000);
    expect(first!.getAttribute("aria-valuenow")).toBe("-3");
  });
});

describe("stereo image", () => {
  it("puts the needle where the correlation is, in the middle where there is none", () => {
    stack("correlation");
    pass(300);
    expect(moved(part("correlation"))).toBe(50);
    expect(part("correlation-text").textContent).toBe("—");
    expect(screen.getByText(/nothing is heard/)).toBeTruthy();
    ring.setMeter("correlation", -0.5);
    ring.setMeter("balanceDb", 2);
    pass(300);
    expect(moved(part("correlation"))).toBe(25);
    expect(part("correlation-text").textContent).toBe("−0.50");
    expect(screen.getByText("judged")).toBeTruthy();
    ring.setMeter("balanceDb", 40);
    pass(300);
    expect(screen.getByText("not judged: one side is nearly silent")).toBeTruthy();
  });
  it.each([
    [3, "3.0 dB right"],
    [-4.5, "4.5 dB left"],
    [0.01, "even"],
  ])("a balance of %d dB is %s", (balance, words) => {
    stack("balance");
    ring.setMeter("balanceDb", balance);
    pass(300);
    expect(part("balance-text").textContent).toBe(words);
  });
  it("names the most opposed of all pairs, nearly silent ones left out", () => {
    stack("pairs", { layout: "5.1" });
    for (let channel = 0; channel < 6; channel++) ring.setChannel(channel, -20, -20, channel === 5 ? -90 : -20);
    ring.setPair(0, 1, 0.9);
    ring.setPair(1, 2, -0.4);
    ring.setPair(0, 5, -1);
    pass(300);
    expect(screen.getByText(/most opposed: R C −0.40/)).toBeTruthy();
  });
  it("one channel has no pairs", () => {
    stack("pairs", { layout: "mono" });
    expect(screen.getByText("One channel has no pairs.")).toBeTruthy();
  });
  it("points to where the energy comes from", () => {
    stack("directions", { layout: "5.1" });
    for (let channel = 0; channel < 6; channel++) ring.setChannel(channel, -99, -99, -99);
    ring.setChannel(0, -20, -20, -20);
    pass(300);
    // One line, from the middle to the front left.
    const [middle, tip] = drawn.points;
    expect(middle!.x).toBe(100);
    expect(tip!.x).toBeLessThan(100);
    expect(tip!.y).toBeLessThan(middle!.y);
  });
  it("fans out between left and right", () => {
    stack("image");
    const x = new Float32Array(8192).fill(0.5);
    ring.put(2, 0, x);
    ring.put(0, 0, x);
    ring.playing = true;
    ring.advance(8192);
    pass(400);
    // Only the left side sounds: the wedge stands left of the middle.
    const wedge = drawn.points.slice(6);
    expect(wedge.length).toBeGreaterThan(0);
    expect(Math.max(...wedge.map(({ x: at }) => at))).toBeLessThanOrEqual(100);
  });
});

describe("further meters", () => {
  it("gain reduction is told as a loss", () => {
    stack("reduction");
    ring.setMeter("reductionDb", 4.2);
    pass(300);
    expect(part("reduction-text").textContent).toBe("−4.2");
    expect(moved(part("reduction"))).toBeCloseTo(0.35, 5);
  });
  it("the clock tells the place that is heard", () => {
    stack("clock");
    ring.setMeter("position", 4800);
    pass(300);
    expect(screen.getByText("frame 4800")).toBeTruthy();
  });
  it("the history goes on while something is heard, and stands still at rest", () => {
    stack("history");
    ring.setMeter("momentaryLufs", -20);
    ring.setMeter("shortTermLufs", -23);
    ring.playing = true;
    pass(2000);
    const points = drawn.points.length;
    expect(points).toBeGreaterThanOrEqual(2 * 6);
    expect(drawn.points.at(-1)!.x).toBe(200);
    ring.playing = false;
    pass(5000);
    expect(drawn.points.length).toBe(points);
  });
  it("the spectrum shows a tone as its highest band", () => {
    stack("spectrum");
    const tone = Float32Array.from({ length: 8192 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 1000 * i) / 48_000));
    for (const plane of [0, 1, 2, 3]) ring.put(plane, 0, tone);
    ring.playing = true;
    ring.advance(8192);
    pass(500);
    const tallest = drawn.rects.reduce((a, b) => (b.height > a.height ? b : a));
    const hertz = 20 * 10 ** ((3 * (tallest.x + tallest.width / 2)) / 200);
    expect(hertz).toBeGreaterThan(890);
    expect(hertz).toBeLessThan(1130);
  });
});

describe("the stack", () => {
  const headings = () =>
    screen.queryAllByRole("heading").map((heading) => heading.textContent.replace(/(LUFS|dB).*/, ""));
  it("is put in order, resized and thinned out", async () => {
    vi.useRealTimers();
    stack(["reduction", "clock"]);
    const user = userEvent.setup();
    const [first, second] = headings();
    await user.click(screen.getAllByRole("button", { name: /further down/ })[0]!);
    expect(headings()).toEqual([second, first]);
    const clock = () => document.querySelector("section p.figure")!.className;
    const before = clock();
    await user.click(screen.getAllByRole("button", { name: /: tall$/ })[0]!);
    expect(clock()).not.toBe(before);
    for (const _ of [1, 2]) await user.click(screen.getAllByRole("button", { name: /take away/ })[0]!);
    expect(screen.getByText(/No meter is chosen/)).toBeTruthy();
  });
});

describe("at rest", () => {
  const frames = vi.fn();
  const asked = () => {
    frames.mockClear();
    const ask = window.requestAnimationFrame;
    return vi.spyOn(window, "requestAnimationFrame").mockImplementation((callback) => {
      frames();
      return ask(callback);
    });
  };
  it("no frame is asked for, until something is told to the engine or is heard", () => {
    stack(["loudness", "peaks"]);
    pass(4000);
    const spy = asked();
    pass(5000);
    expect(frames).not.toHaveBeenCalled();
    // A reset arrives in the ring a moment after it was asked for.
    act(() => active.forEach((listener) => listener()));
    pass(50);
    ring.setMeter("integratedLufs", -23);
    pass(400);
    expect(part("I-text").textContent).toBe("−23.0");
    frames.mockClear();
    pass(5000);
    expect(frames).not.toHaveBeenCalled();
    ring.playing = true;
    act(() => active.forEach((listener) => listener()));
    pass(1000);
    expect(frames.mock.calls.length).toBeGreaterThan(40);
    spy.mockRestore();
  });
  it("comes 3 s after the sound has stopped, so that meters fall back", () => {
    stack("loudness");
    ring.playing = true;
    pass(4000);
    ring.playing = false;
    const spy = asked();
    pass(2500);
    expect(frames.mock.calls.length).toBeGreaterThan(100);
    pass(1500);
    frames.mockClear();
    pass(3000);
    expect(frames).not.toHaveBeenCalled();
    spy.mockRestore();
  });
});
