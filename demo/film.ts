/** “Low Water”: half a minute of a film, as its maker sends it; the speech of a chapter over a moving picture. */
import { execFile } from "node:child_process";
import { promisify } from "node:util";

const SECONDS = 24;
/** A horizon, a hull that drifts, and a light that swings: enough to see whether sound and picture are together. */
const PICTURE = [
  `color=c=0x2a445c:s=640x360:r=25:d=${SECONDS}`,
  "drawbox=x=0:y=0:w=640:h=210:color=0xe8d6b6:t=fill",
  "drawbox=x='60+mod(t*22,520)':y=196:w=90:h=26:color=0x23262b:t=fill",
  "drawbox=x='60+mod(t*22,520)+40':y=140:w=6:h=56:color=0x23262b:t=fill",
  "drawbox=x='300+260*sin(t*0.9)':y=60:w=28:h=28:color=0xc45c2c:t=fill",
].join(",");

/** @param sound a WAV file whose beginning is heard */
export async function makeFilm(sound: string, out: string): Promise<void> {
  await promisify(execFile)("ffmpeg", [
    ...["-v", "error", "-y", "-f", "lavfi", "-i", PICTURE, "-ss", "4", "-t", String(SECONDS), "-i", sound],
    ...["-map", "0:v", "-map", "1:a", "-ac", "2", "-ar", "48000", "-c:a", "aac", "-b:a", "160k"],
    ...["-c:v", "libx264", "-preset", "veryfast", "-crf", "30", "-pix_fmt", "yuv420p", "-shortest", "-f", "mp4", out],
  ]);
}
