/** A simulated broadcaster's ingest: checks name, format, length and loudness, and refuses with every reason. */
import { mkdir, rename, rm } from "node:fs/promises";
import { join } from "node:path";
import { Refused, take, type Handler } from "./answer";
import { measured } from "./listen";

const MOST_BYTES = 64 * 2 ** 30;
const NAME = /^[A-Za-z0-9][A-Za-z0-9 _.()-]{0,120}\.wav$/;
const WANTED = { lufs: -23, toleranceLu: 0.5, highestDbtp: -1, sampleRate: 48000, codec: "pcm_s24le" };
/** Of ffmpeg's meter, which tells tenths. */
const METER_STEP = 0.05;

export function ingest(folder: string): Handler {
  return async (request, path) => {
    const [root, name] = path;
    if (path.length === 0)
      return { status: 200, answer: { name: "Longshore Radio, a simulated ingest", takes: ["wav"] } };
    if (request.method !== "PUT" || root !== "programmes" || !name) throw new Refused(["There is nothing here."], 404);
    const reasons: string[] = [];
    if (!NAME.test(name))
      reasons.push(
        `The name “${name}” is not allowed: letters of the English alphabet, digits, spaces and _ . ( ) - , ending in .wav.`,
      );
    const taken = await take(request, folder, MOST_BYTES);
    try {
      const stated = request.headers["x-sha256"];
      if (stated !== undefined && stated !== taken.sha256)
        reasons.push("The checksum differs from the one that was stated.");
      const heard = await measured(taken.path);
      if (heard.container !== "wav") reasons.push(`The file is ${heard.container}; WAV is wanted.`);
      if (heard.codec !== WANTED.codec) reasons.push(`The samples are ${heard.codec}; 24-bit PCM is wanted.`);
      if (heard.sampleRate !== WANTED.sampleRate)
        reasons.push(`The sample rate is ${heard.sampleRate} Hz; ${WANTED.sampleRate} is wanted.`);
      if (Math.abs(heard.loudnessLufs - WANTED.lufs) > WANTED.toleranceLu + METER_STEP)
        reasons.push(
          `The loudness is ${heard.loudnessLufs.toFixed(1)} LUFS; ${WANTED.lufs} ±${WANTED.toleranceLu} is wanted.`,
        );
      if (heard.truePeakDbtp > WANTED.highestDbtp + METER_STEP)
        reasons.push(
          `The true peak is ${heard.truePeakDbtp.toFixed(1)} dBTP; at most ${WANTED.highestDbtp} is allowed.`,
        );
      if (reasons.length > 0) throw new Refused(reasons);
      await mkdir(folder, { recursive: true });
      await rename(taken.path, join(folder, name));
      return { status: 201, answer: { accepted: true, name, sha256: taken.sha256, measured: heard } };
    } finally {
      await rm(taken.path, { force: true });
    }
  };
}
