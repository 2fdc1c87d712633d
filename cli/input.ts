import { access, mkdtemp, rm, stat } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { openSoundFile } from "@core/files/open";
import type { FrameSource } from "@core/audio/frame-source";
import { WavWriter } from "@core/files/wav-writer";
import { layoutForChannels, layoutNamed, LAYOUTS, type Layout } from "@core/audio/layout";
import { framesOf } from "@core/audio/units";
import { FileSink, openFile, type OpenFile } from "@server/storage/byte-files";
import { openRecording, type Recording } from "@server/ingest/ingest";
import { CliProblem } from "./outcome";

async function opened(given: string): Promise<OpenFile> {
  const path = resolve(given);
  const about = await stat(path).catch((error: NodeJS.ErrnoException) => {
    throw new CliProblem(
      error.code === "ENOENT" ? `There is no file ${given}.` : `${given} cannot be read: ${error.message}`,
    );
  });
  if (!about.isFile()) throw new CliProblem(`${given} is not a file.`);
  await access(path).catch(() => {
    throw new CliProblem(`${given} may not be read by this user.`);
  });
  return openFile(path);
}

/** The layout asked for by name, checked against the channels; else the file's own, else the usual one. */
export function chooseLayout(asked: string | undefined, own: Layout | undefined, channels: number): Layout {
  if (asked === undefined) return own ?? layoutForChannels(channels);
  const layout = layoutNamed(asked);
  if (!layout)
    throw new CliProblem(`There is no layout "${asked}"; there are: ${LAYOUTS.map(({ name }) => name).join(", ")}.`);
  if (layout.speakers.length !== channels)
    throw new CliProblem(`The layout ${layout.name} has ${layout.speakers.length} channels; the file has ${channels}.`);
  return layout;
}

/** Opens a recording for one pass, whatever it is kept in. Closes it after `work`. */
export async function withRecording<Result>(
  given: string,
  work: (recording: Recording) => Promise<Result>,
): Promise<Result> {
  const file = await opened(given);
  try {
    return await work(await openRecording(file, resolve(given)));
  } finally {
    await file.close();
  }
}

export interface RandomAccess {
  source: FrameSource;
  layout: Layout | undefined;
  bits: number | null;
  warnings: string[];
}

/** Opens a recording for any number of passes: what the core does not read itself is decoded to a temporary file. */
export async function withFrames<Result>(
  given: string,
  work: (frames: RandomAccess) => Promise<Result>,
): Promise<Result> {
  const file = await opened(given);
  let folder: string | undefined;
  let decoded: OpenFile | undefined;
  try {
    const own = await openSoundFile(file);
    if (own) {
      if (own.frames === 0) throw new CliProblem(`${given} holds no sound.`);
      const bits = own.encoding.endsWith("float") ? null : own.bitsPerSample;
      return await work({ source: own, layout: own.layout, bits, warnings: own.warnings });
    }
    const recording = await openRecording(file, resolve(given));
    folder = await mkdtemp(join(tmpdir(), "resonum-"));
    const path = join(folder, "decoded.wav");
    const sink = await FileSink.create(path);
    const layout = recording.layout ?? layoutForChannels(recording.channels);
    const writer = await WavWriter.open(sink, { sampleRate: recording.sampleRate, layout, format: "32f" });
    for await (const block of recording.blocks(new AbortController().signal))
      await writer.writeFloat(block, framesOf(block));
    await writer.finish();
    await sink.sync();
    await sink.close();
    decoded = await openFile(path);
    const source = (await openSoundFile(decoded))!;
    return await work({ source, layout: recording.layout, bits: recording.bits, warnings: recording.warnings });
  } finally {
    await decoded?.close();
    await file.close();
    if (folder) await rm(folder, { recursive: true, force: true });
  }
}
