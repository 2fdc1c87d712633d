// `npm run bench -- deviation FOLDER`: how far our figures are from ffmpeg's, on recordings in a folder.
import { spawnSync } from "node:child_process";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { root } from "../paths.mjs";

/** The last value of a key that ffmpeg's meter prints for each frame. */
const lastOf = (text, key) =>
  Number(
    text
      .match(new RegExp(`${key}=(\\S+)`, "g"))
      ?.pop()
      ?.split("=")[1],
  );

/** How far our figures are from ffmpeg's, on recordings in a folder: it decides nothing where the standard is clear. */
export function deviation(folder) {
  if (!folder) throw new Error("Say which folder: npm run bench -- deviation FOLDER");
  const files = readdirSync(folder, { recursive: true })
    .filter((name) => /\.(wav|flac|ogg|opus|mp3)$/i.test(name))
    .map((name) => join(folder, name));
  const rows = files.map((file) => {
    const wav = join(root, ".build", "bench", "deviation.wav");
    const decoded = spawnSync("ffmpeg", ["-v", "error", "-y", "-i", file, "-c:a", "pcm_f32le", wav], {
      encoding: "utf8",
    });
    if (decoded.status !== 0) return { file, problem: decoded.stderr.trim().split("\n")[0] };
    const filter = "ebur128=peak=true:metadata=1,ametadata=mode=print:file=-";
    const { stdout } = spawnSync("ffmpeg", ["-v", "error", "-i", wav, "-af", filter, "-f", "null", "-"], {
      encoding: "utf8",
      maxBuffer: 1 << 30,
    });
    const json = spawnSync(process.execPath, ["dist/cli.mjs", "measure", wav, "--json"], {
      cwd: root,
      encoding: "utf8",
    });
    const figures = Object.values(JSON.parse(json.stdout))[0];
    const peaks = [0, 1, 2, 3, 4, 5].map((c) => lastOf(stdout, `r128\\.true_peaks_ch${c}`)).filter(Number.isFinite);
    return {
      file,
      seconds: figures.durationSeconds,
      loudness: figures.integratedLufs - lastOf(stdout, "r128\\.I"),
      range: figures.loudnessRangeLu - lastOf(stdout, "r128\\.LRA"),
      peak: figures.truePeakDbtp - 20 * Math.log10(Math.max(...peaks)),
    };
  });
  const compared = rows.filter(({ loudness }) => Number.isFinite(loudness));
  const largest = (of) => compared.reduce((most, row) => Math.max(most, Math.abs(row[of])), 0).toFixed(3);
  console.log(
    `${compared.length} of ${files.length} recordings compared: at most ${largest("loudness")} LU in loudness, ` +
      `${largest("range")} LU in range, ${largest("peak")} dB in true peak`,
  );
  const far = ({ loudness, range, peak }) => Math.abs(loudness) > 0.1 || Math.abs(range) > 0.1 || Math.abs(peak) > 0.2;
  for (const row of compared.filter(far))
    console.log(
      `  ${row.file.slice(folder.length)}, ${row.seconds.toFixed(1)} s: loudness ${row.loudness.toFixed(3)}, ` +
        `range ${row.range.toFixed(3)}, true peak ${row.peak.toFixed(3)}`,
    );
}
