/** Noise that changes from moment to moment, under speech: what no profile can tell. */
import { loadNetwork, voiceIn } from "@core/repair/network/network";
import { mixed, siSdr, steadyNoise } from "@core/testing/degraded";
import { RATE, type Clip } from "./clips";
import { bestOf, print, repaired, settings, type Row } from "./peers";

const swinging = (length: number) =>
  steadyNoise("room", length, RATE, 7).map((v, i) => v * 10 ** (0.6 * Math.sin((2 * Math.PI * i) / (1.1 * RATE))));
const bursts = (length: number) =>
  steadyNoise("hiss", length, RATE, 7).map((v, i) => v * Math.exp(-(i % Math.round(RATE / 3)) / (0.02 * RATE)));

const TRACKING = ["6", "12", "24"].flatMap((nr) => ["-50", "-35", "-25"].map((nf) => `nr=${nr}:nf=${nf}:tn=1`));

export async function changing(all: Clip[]): Promise<void> {
  await loadNetwork();
  const speech = all.filter(({ kind }) => kind === "speech");
  const rows: Row[] = [];
  for (const [name, noiseOf] of Object.entries({ "swells of 24 dB": swinging, "bursts of hiss": bursts }))
    for (const snrDb of [5, 10, 20]) {
      const row: Row = { what: `${name}, ${snrDb} dB`, ours: [], peers: { "the network alone": [], afftdn: [] } };
      for (const { clean } of speech) {
        const spoilt = mixed(clean, noiseOf(clean.length), snrDb);
        const gain = (made: Float32Array) => siSdr(made, clean) - siSdr(spoilt, clean);
        row.ours.push(gain(await repaired(spoilt, "speech-denoise")));
        row.peers["the network alone"]!.push(gain(voiceIn(spoilt)));
        row.peers["afftdn"]!.push(await bestOf(settings("afftdn", TRACKING), spoilt, clean, gain));
      }
      rows.push(row);
    }
  const clean: Row = { what: "clean speech: SI-SDR", ours: [], peers: { "the network alone": [] } };
  for (const one of speech) {
    clean.ours.push(siSdr(await repaired(one.clean, "speech-denoise"), one.clean));
    clean.peers["the network alone"]!.push(siSdr(voiceIn(one.clean), one.clean));
  }
  rows.push(clean);
  print(
    "Changing noise under speech: gain in SI-SDR, dB (its own defaults; afftdn with its best tracking setting)",
    rows,
  );
}
