import { describe, expect, it } from "vitest";
import { decidingFigures, worstOf } from "./deciding-figures";
import { specNamed } from "./specs";

const audiobook = specNamed("audiobook-retail")!;
const broadcast = specNamed("ebu-r128")!;
const inside = {
  integratedLufs: -20,
  truePeakDbtp: -3.2,
  rmsDbfs: -20.5,
  samplePeakDbfs: -4,
  samplePeakPerChannelDbfs: [-4],
  noiseFloorDbfs: -66,
  headRoomToneSeconds: 0.7,
  tailRoomToneSeconds: 3,
  headSilenceSeconds: 0,
  tailSilenceSeconds: 0,
  durationSeconds: 900,
};
const names = (figures: ReturnType<typeof decidingFigures>) => figures.map(({ figure }) => figure);

describe("figures that decide", () => {
  it("of an audiobook are RMS, peak and floor, not the loudness that nobody limits", () => {
    expect(names(decidingFigures(audiobook, inside)).slice(0, 3)).toEqual([
      "rmsDbfs",
      "samplePeakDbfs",
      "noiseFloorDbfs",
    ]);
  });
  it("begin with those that fail, hard before advisory, then what is close", () => {
    const figures = { ...inside, noiseFloorDbfs: -48, tailRoomToneSeconds: 9, rmsDbfs: -18.1 };
    const deciding = decidingFigures(audiobook, figures);
    expect(names(deciding).slice(0, 4)).toEqual(["noiseFloorDbfs", "tailRoomToneSeconds", "rmsDbfs", "samplePeakDbfs"]);
    expect(deciding.slice(0, 3).map(({ verdict }) => verdict!.status)).toEqual(["fail", "fail", "marginal"]);
  });
  it("are each told once, with what is told of any sound behind", () => {
    const all = names(decidingFigures(broadcast, inside));
    expect(new Set(all).size).toBe(all.length);
    expect(all).toEqual(
      expect.arrayContaining(["integratedLufs", "truePeakDbtp", "loudnessRangeLu", "noiseFloorDbfs"]),
    );
    expect(names(decidingFigures(null, inside))[0]).toBe("integratedLufs");
  });
  it("that are not shown have the mark of the worst", () => {
    const deciding = decidingFigures(audiobook, { ...inside, durationSeconds: 9000 });
    expect(deciding[0]!.figure).toBe("durationSeconds");
    expect(worstOf(deciding)).toBe("fail");
    expect(worstOf(deciding.slice(1))).toBe("pass");
  });
});
