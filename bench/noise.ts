/** Noise reduction beside that of others: gain, what is left in pauses, how much it sings, what it does to the voice. */
import { learnNoiseProfile } from "@core/repair/noise-profile";
import { kurtosis } from "@core/testing/kurtosis";
import { meanPower, mixed, siSdr, steadyNoise } from "@core/testing/degraded";
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { RATE, scratch, type Clip } from "./clips";
import { bestMade, print, repaired, settings, type Row, type Ways } from "./peers";

/** Noise alone, before each clip. */
const LEAD = Math.round(1.6 * RATE);
/** Depths and floors of `afftdn`, with sampled noise and without. */
const AFFTDN = ["3", "6", "10", "15", "24"].flatMap((nr) => ["-70", "-50", "-35"].map((nf) => `nr=${nr}:nf=${nf}`));

const noisered: Ways = Object.fromEntries(
  ["0.01", "0.03", "0.06", "0.1", "0.2", "0.3", "0.5"].map((amount) => [
    amount,
    (input, output) => {
      const profile = join(scratch, "profile");
      spawnSync("sox", [input, "-n", "trim", "0", "1.6", "noiseprof", profile], { stdio: "ignore" });
      return ["sox", input, output, "noisered", profile, amount];
    },
  ]),
);
const sampled = "asendcmd=c='0.0 afftdn sn start; 1.6 afftdn sn stop',afftdn";
const afftdn: Ways = { ...settings(sampled, AFFTDN), ...settings("afftdn", AFFTDN) };

/** The pause before the clip, without its ends: what stands there is what the reduction leaves of the noise. */
const pauseOf = (x: Float32Array): Float32Array => x.subarray(0.4 * RATE, 1.4 * RATE);

interface Figures {
  gain: number;
  pause: number;
  singing: number;
  voice: number;
}

function figuresOf(made: Float32Array, spoilt: Float32Array, clean: Float32Array): Figures {
  const sound = made.subarray(LEAD);
  const [cross, own] = sound.reduce(([a, b], v, i) => [a + v * clean[i]!, b + clean[i]! ** 2], [0, 0]);
  return {
    gain: siSdr(sound, clean) - siSdr(spoilt.subarray(LEAD), clean),
    pause: 10 * Math.log10(meanPower(pauseOf(made)) / meanPower(pauseOf(spoilt))),
    singing: Math.log(kurtosis(pauseOf(made)) / kurtosis(pauseOf(spoilt))),
    voice: 20 * Math.log10(cross / own),
  };
}

export async function noise(all: Clip[]): Promise<void> {
  const titles: Record<keyof Figures, string> = {
    gain: "Noise, profile from 1.6 s: gain in SI-SDR, dB (wanted on average 9.0, 6.5, 5.5, and above the others on every clip)",
    pause: "What is left of the noise in a pause, dB (wanted below the others)",
    singing: "Musical noise in a pause: logarithm of the ratio of kurtoses, 0 for none",
    voice: "How much louder or softer the wanted sound became, dB (wanted within 0.5)",
  };
  const rows = { gain: [], pause: [], singing: [], voice: [] } as Record<keyof Figures, Row[]>;
  const names = Object.keys(rows) as (keyof Figures)[];
  for (const snrDb of [10, 20, 30])
    for (const kind of ["speech", "music"] as const) {
      const what = `${kind}, ${snrDb} dB`;
      for (const name of names) {
        rows[name].push({ what, ours: [], peers: { noisered: [], afftdn: [] } });
        rows[name].push({ what: `${what}, followed`, ours: [], peers: {} });
      }
      for (const { clean } of all.filter((clip) => clip.kind === kind))
        for (const which of ["room", "fan", "hiss"] as const) {
          const spoilt = mixed(clean, steadyNoise(which, clean.length + LEAD, RATE, 7), snrDb, LEAD);
          const score = (made: Float32Array) => siSdr(made, clean);
          const add = (made: Float32Array | undefined, put: (row: Row, value: number) => void, back: number) => {
            const figures = made && figuresOf(made, spoilt, clean);
            for (const name of names) put(rows[name].at(back)!, figures?.[name] ?? NaN);
          };
          const learned = learnNoiseProfile([spoilt.subarray(0, LEAD)], RATE);
          add(await repaired(spoilt, "noise", { learned }), (row, value) => row.ours.push(value), -2);
          add(await repaired(spoilt, "noise"), (row, value) => row.ours.push(value), -1);
          for (const [peer, ways] of Object.entries({ noisered, afftdn })) {
            const made = await bestMade(ways, spoilt, clean, score, LEAD);
            add(made, (row, value) => row.peers[peer]!.push(value), -2);
          }
        }
    }
  print(titles.gain, rows.gain);
  for (const name of ["pause", "singing", "voice"] as const) print(titles[name], rows[name], "less");
}
