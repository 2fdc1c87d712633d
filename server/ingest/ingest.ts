/** From a file to what the studio works with: float32 sound, an overview, figures, in one pass over the file. */
import type { SoundTrack } from "@core/project/views";
import { FileProblem, type ByteSource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { HEADER_BYTES, waveformPeaksTail } from "@core/measure/waveform-peaks-file";
import type { SoundFile } from "@core/files/sound-file";
import { WavWriter } from "@core/files/wav-writer";
import { Measurer, type Curves, type Figures, type Measured } from "@core/measure";
import { measureSource } from "@core/measure/measure-source";
import { WaveformPeaksBuilder } from "@core/measure/waveform-peaks";
import { WaveformSketch } from "@core/measure/waveform-sketch";
import { Cancelled } from "@core/audio/cancellation";
import { withoutNonFinite } from "@core/audio/non-finite";
import { layoutForChannels, type Layout } from "@core/audio/layout";
import { emptyPlanar, framesOf, type Planar } from "@core/audio/units";
import { decodeMedia, probeMedia } from "../media/media-decoder";
import type { BlobDraft } from "../storage/blob-store";

/** A recording as blocks, whatever it is kept in. */
export interface Recording {
  container: string;
  encoding: string;
  bits: number | null;
  sampleRate: number;
  channels: number;
  layout: Layout | undefined;
  /** May be a guess until all is read. */
  expectedFrames: number;
  warnings: string[];
  /** Start of its sound from midnight, where the file tells it. */
  startSeconds?: number | undefined;
  /** Its sound tracks, where there are several. */
  tracks?: SoundTrack[] | null;
  /** The file itself, where the core reads it. */
  file?: SoundFile;
  /** Blocks in order; each is good until the next is asked for. */
  blocks(signal: AbortSignal): AsyncGenerator<Planar, string[]>;
}

/** Samples of all channels that are read at once. */
const READ_SAMPLES = 131_072;

/**
 * Opens a file by our own readers, or else by the media tool.
 * @param track which of its sound tracks
 * @throws FileProblem
 */
export async function openRecording(source: ByteSource, path: string, track = 0): Promise<Recording> {
  const file = await openSoundFile(source);
  if (file) {
    if (file.frames === 0) throw new FileProblem("The file holds no sound: its sound data is empty.");
    return {
      container: file.container,
      encoding: file.encoding,
      bits: file.encoding.endsWith("float") ? null : file.bitsPerSample,
      sampleRate: file.sampleRate,
      channels: file.channels,
      layout: file.layout,
      expectedFrames: file.frames,
      warnings: file.warnings,
      startSeconds: file.tags?.startSeconds,
      tracks: null,
      file,
      async *blocks(signal) {
        // The next block is read while this one is worked on, in turn into two.
        const count = Math.ceil(READ_SAMPLES / file.channels);
        const turns = [emptyPlanar(file.channels, count), emptyPlanar(file.channels, count)];
        const read = (frame: number) => file.read(frame, count, turns[(frame / count) % 2]);
        let next = read(0);
        for (let frame = 0; frame < file.frames; frame += count) {
          if (signal.aborted) throw new Cancelled();
          const block = await next;
          if (frame + count < file.frames) {
            next = read(frame + count);
            next.catch(() => undefined); // told when it is awaited
          }
          yield block;
        }
        return [];
      },
    };
  }
  const about = await probeMedia(path, track);
  return {
    ...about,
    expectedFrames: Math.round(about.seconds * about.sampleRate),
    blocks: (signal) => decodeMedia(path, about, signal),
  };
}

/** Measures a recording in one pass. @throws Cancelled, FileProblem */
export async function measureRecording(recording: Recording, layout: Layout, signal: AbortSignal): Promise<Measured> {
  if (recording.file) return measureSource(recording.file, layout, { cancellation: signal });
  const measurer = new Measurer({ sampleRate: recording.sampleRate, layout });
  for await (const block of recording.blocks(signal)) measurer.process(block);
  return measurer.result();
}

export interface PreparedRecording {
  figures: Figures;
  curves: Curves;
  layout: Layout;
  warnings: string[];
}

/** Reads a recording once: writes its sound, where there is a draft for it, and its overview, and measures it. @throws Cancelled, FileProblem */
export async function prepareRecording(
  recording: Omit<Recording, "container" | "encoding" | "bits" | "file" | "startSeconds" | "tracks">,
  chosenLayout: Layout | null,
  drafts: { pcm: BlobDraft | null; overview: BlobDraft },
  signal: AbortSignal,
  onProgress: (fraction: number, sketch: WaveformSketch) => void,
): Promise<PreparedRecording> {
  const { channels, sampleRate } = recording;
  const layout =
    chosenLayout?.speakers.length === channels ? chosenLayout : (recording.layout ?? layoutForChannels(channels));
  const measurer = new Measurer({ sampleRate, layout });
  const sketch = new WaveformSketch(recording.expectedFrames);
  const overview = new WaveformPeaksBuilder(channels, recording.expectedFrames);
  const writer = drafts.pcm && (await WavWriter.open(drafts.pcm.sink(), { sampleRate, layout, format: "32f" }));
  const picture = drafts.overview.sink();
  await picture.write(new Uint8Array(HEADER_BYTES));
  let baseValues = 0;
  const drain = async () => {
    const bins = overview.drain();
    baseValues += bins.length;
    if (bins.length > 0) await picture.write(new Uint8Array(bins.buffer, bins.byteOffset, bins.byteLength));
  };

  let frames = 0;
  const blocks = recording.blocks(signal);
  let more: string[] = [];
  for (;;) {
    const next = await blocks.next();
    if (next.done) {
      more = next.value;
      break;
    }
    if (signal.aborted) throw new Cancelled();
    const count = framesOf(next.value);
    measurer.process(next.value, count);
    const { clean } = withoutNonFinite(next.value, count);
    overview.process(clean, count);
    sketch.process(clean, count);
    await writer?.writeFloat(next.value, count);
    await drain();
    frames += count;
    onProgress(Math.min(1, frames / Math.max(1, recording.expectedFrames)), sketch);
  }
  await writer?.finish();
  const coarser = overview.finish();
  await drain();
  const { figures, curves } = measurer.result();
  const { tail, header } = waveformPeaksTail({ sampleRate, channels, frames }, baseValues, coarser, curves);
  for (const table of tail) await picture.write(table);
  await picture.patch(0, header);
  const warnings = [...recording.warnings, ...more];
  if (!recording.layout && !chosenLayout && channels > 2)
    warnings.push(`The file does not say which channel is which; it was taken for ${layout.name}.`);
  if (figures.nonFiniteSamples > 0)
    warnings.push(
      `${figures.nonFiniteSamples} samples are not numbers (NaN or infinite); they are measured as silence, and in masters interpolated where few lie together.`,
    );
  return { figures, curves, layout, warnings };
}
