import { describe, expect, it, vi } from "vitest";
import { hertzAt } from "@core/spectrogram/frequency-rows";
import { byteOfPower, dbOfByte } from "@core/spectrogram/spectrogram";
import { VALUES } from "@core/measure/waveform-peaks";
import { hertzOfY, yOfHertz } from "./draw-spectrogram";
import { gridOfView } from "./draw-ruler";
import { RecordingOverview } from "../state/recording-overview";
import { SPECTROGRAM_ROWS, SpectrogramTiles, balanceOf, balanceShare } from "./spectrogram-tiles";
import { axisOf, spectrogramSettings } from "./spectrogram-lanes";
import { correlationColour, PALETTE_NAMES, pixelsOfLevels, balanceColour } from "../canvas/scales";
import { useLanes } from "../state/lane-settings";

const { picture } = useLanes.getState();

describe("pictures in the programme view", () => {
  it("are made in hops that double, no finer than the overlap asks for", () => {
    expect(SpectrogramTiles.hopOf(10, 512)).toBe(512);
    expect(SpectrogramTiles.hopOf(1024, 512)).toBe(1024);
    expect(SpectrogramTiles.hopOf(5000, 512)).toBe(4096);
  });
  it("put frequencies at their height and read them back", () => {
    const axis = axisOf("spectrogram", picture, 48_000)!;
    expect(yOfHertz(axis.high, axis, 200)).toBeCloseTo(0, 9);
    expect(yOfHertz(axis.low, axis, 200)).toBeCloseTo(200, 9);
    expect(hertzOfY(yOfHertz(1234, axis, 200), axis, 200)).toBeCloseTo(1234, 6);
    expect(axisOf("waveform", picture, 48_000)).toBeNull();
  });
  it("end at half the rate, and begin above nothing where there is a logarithm", () => {
    expect(spectrogramSettings({ ...picture, highHertz: 20_000 }, "spectrogram", 16_000).high).toBe(8000);
    expect(spectrogramSettings({ ...picture, lowHertz: 1, scale: "log" }, "spectrogram", 48_000).low).toBe(20);
    expect(spectrogramSettings({ ...picture, lowHertz: 1, scale: "linear" }, "spectrogram", 48_000).low).toBe(1);
  });
  it("have a tone: dull where the energy is low, bright where it is high, none in silence", () => {
    const settings = spectrogramSettings(picture, "spectrogram", 48_000);
    const at = (row: number) => {
      const levels = new Uint8Array(SPECTROGRAM_ROWS);
      levels[row] = 200;
      return balanceOf(levels, settings);
    };
    expect(at(60)!).toBeLessThan(at(200)!);
    expect(balanceOf(new Uint8Array(SPECTROGRAM_ROWS), settings)).toBeNull();
    expect(balanceShare(10)).toBe(0);
    expect(balanceShare(20_000)).toBe(1);
  });
  it("keep levels as bytes within 0.3 dB", () => {
    for (const db of [-140, -63.2, -20, -3.01])
      expect(Math.abs(dbOfByte(byteOfPower(10 ** (db / 10))) - db)).toBeLessThan(0.3);
    expect(byteOfPower(0)).toBe(0);
    expect(byteOfPower(4)).toBe(255);
  });
});

describe("the level at a place of a picture", () => {
  class Made {
    onmessage: ((event: { data: unknown }) => void) | null = null;
    postMessage({ id }: { id: number }) {
      const levels = new Uint8Array(128 * SPECTROGRAM_ROWS);
      // The third column holds one line.
      levels[2 * SPECTROGRAM_ROWS + 100] = 200;
      queueMicrotask(() => this.onmessage?.({ data: { type: "done", id, levels } }));
    }
    terminate() {}
  }
  it("is that of the finest tile that is there, and none where there is none", async () => {
    vi.stubGlobal("Worker", Made);
    const tiles = new SpectrogramTiles(
      "http://x/y",
      [],
      null,
      48_000,
      48_000,
      { hopSeconds: 0.2, columns: 0, values: new Float32Array() },
      () => undefined,
      () => false,
    );
    const settings = axisOf("spectrogram", picture, 48_000)!;
    const hertz = hertzAt(100.5 / SPECTROGRAM_ROWS, settings);
    expect(tiles.levelAt(2 * 512 + 5, hertz, settings, null)).toBeNull();
    tiles.ask(100, 0, 512, settings, null, 512);
    await vi.waitFor(() => expect(tiles.levelAt(2 * 512 + 5, hertz, settings, null)).toBeCloseTo(dbOfByte(200), 6));
    expect(tiles.levelAt(3 * 512 + 5, hertz, settings, null)).toBe(dbOfByte(0));
    expect(tiles.levelAt(2 * 512 + 5, settings.high * 1.2, settings, null)).toBeNull();
    tiles.close();
    vi.unstubAllGlobals();
  });
});

describe("scales", () => {
  const lightness = (pixel: number) =>
    (pixel & 0xff) * 0.3 + ((pixel >> 8) & 0xff) * 0.59 + ((pixel >> 16) & 0xff) * 0.11;
  it.each(PALETTE_NAMES)("grow lighter, or darker, all the way from the lowest level to the highest: %s", (palette) => {
    const pixels = pixelsOfLevels(palette, (byte) => byte - 255, -200, -20);
    const steps = Array.from(pixels.subarray(56, 235), lightness);
    const sign = Math.sign(steps.at(-1)! - steps[0]!);
    for (let i = 1; i < steps.length; i++) expect(sign * (steps[i]! - steps[i - 1]!)).toBeGreaterThan(-1.5);
    expect(pixels[0]).toBe(pixels[40]);
    expect(pixels[255]).toBe(pixels[240]);
    expect(pixels[100]! >>> 24).toBe(0xff);
  });
  it("tell opposed from together, and dull from bright", () => {
    expect(correlationColour(-1)).not.toBe(correlationColour(1));
    expect(balanceColour(0)).not.toBe(balanceColour(1));
  });
});

describe("waveforms of all channels in one row", () => {
  it("show the lowest and highest of any, and the RMS of all", () => {
    const [folded] = RecordingOverview.folded([Float32Array.of(-0.5, 0.2, 0.3), Float32Array.of(-0.1, 0.9, 0.4)]);
    expect(folded).toHaveLength(VALUES);
    expect(Array.from(folded!)).toEqual([-0.5, expect.closeTo(0.9, 6), expect.closeTo(Math.sqrt(0.125), 6)]);
  });
});

describe("the ruler's grid", () => {
  it("has labels far enough apart at any closeness", () => {
    for (const span of [0.0005, 0.1, 3, 400, 36_000]) {
      const grid = gridOfView({ start: 5, end: 5 + span }, 932, "clock", { sampleRate: 48_000, tempo: null });
      expect((grid.step / span) * 932).toBeGreaterThanOrEqual(span > 35_000 ? 90 : 91);
    }
  });
});
