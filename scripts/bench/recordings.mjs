// Recordings that are made for the benches, once.
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync } from "node:fs";
import { join } from "node:path";
import { inRoot } from "../paths.mjs";
import { say } from "../say.mjs";

export const folder = inRoot(".build", "bench");

/** Seconds of sound that is made; more is repeated. */
export const LONGEST_MADE = 600;

/** Pink noise under a tone that swells, 24 bit: neither silent nor always at its loudest. */
export function recording(name, seconds, channels) {
  const path = join(folder, name);
  if (existsSync(path)) return path;
  mkdirSync(folder, { recursive: true });
  say(`Making ${name} …`);
  if (seconds > LONGEST_MADE) {
    // Longer ones repeat a shorter one.
    const part = recording(`part-${channels}.wav`, LONGEST_MADE, channels);
    const again = String(Math.ceil(seconds / LONGEST_MADE) - 1);
    const { status, stderr } = spawnSync(
      "ffmpeg",
      [
        "-v",
        "error",
        "-y",
        "-stream_loop",
        again,
        "-i",
        part,
        "-t",
        String(seconds),
        "-c",
        "copy",
        "-rf64",
        "auto",
        path,
      ],
      { encoding: "utf8" },
    );
    if (status !== 0) throw new Error(stderr);
    return path;
  }
  const side = (seed) => `anoisesrc=c=pink:a=0.25:r=48000:s=${seed}:d=${seconds},tremolo=f=0.15:d=0.8`;
  const inputs = Array.from({ length: channels }, (_, c) => ["-f", "lavfi", "-i", side(c + 1)]).flat();
  const merge = channels > 1 ? ["-filter_complex", `amerge=inputs=${channels}`] : [];
  const { status, stderr } = spawnSync(
    "ffmpeg",
    ["-v", "error", "-y", ...inputs, ...merge, "-c:a", "pcm_s24le", "-rf64", "auto", path],
    { encoding: "utf8" },
  );
  if (status !== 0) throw new Error(stderr);
  return path;
}
