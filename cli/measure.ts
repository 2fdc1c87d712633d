import { Measurer, type Figures } from "@core/measure";
import { formatDb, formatTime } from "@core/signal/format";
import { chooseLayout, withRecording } from "./input";
import { ERROR, print, printJson } from "./outcome";

interface Options {
  layout?: string;
  json?: boolean;
}

/** Measures one recording in one pass. @throws CliProblem, FileProblem */
export const measureOne = (file: string, layout: string | undefined): Promise<Figures> =>
  withRecording(file, async (recording) => {
    const format = {
      sampleRate: recording.sampleRate,
      layout: chooseLayout(layout, recording.layout, recording.channels),
    };
    const measurer = new Measurer(format);
    for await (const block of recording.blocks(new AbortController().signal)) measurer.process(block);
    return measurer.result().figures;
  });

export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** `resonum measure`: a file that cannot be read is told, and the others go on. */
export async function measureFiles(files: string[], { layout, json }: Options): Promise<void> {
  const answers: Record<string, Figures | { error: string }> = {};
  for (const file of files) {
    try {
      answers[file] = await measureOne(file, layout);
    } catch (error) {
      answers[file] = { error: messageOf(error) };
      process.exitCode = ERROR;
      if (!json) process.stderr.write(`resonum: ${file}: ${messageOf(error)}\n`);
    }
  }
  if (json) return printJson(answers);
  for (const [file, answer] of Object.entries(answers)) if (!("error" in answer)) printFigures(file, answer);
}

function printFigures(file: string, figures: Figures): void {
  const rows: [string, string][] = [
    ["length", `${formatTime(figures.durationSeconds, 2)}, ${figures.layout}, ${figures.sampleRate} Hz`],
    ["integrated", `${formatDb(figures.integratedLufs)} LUFS`],
    ["short-term max", `${formatDb(figures.shortTermMaxLufs)} LUFS`],
    ["momentary max", `${formatDb(figures.momentaryMaxLufs)} LUFS`],
    ["range", `${formatDb(figures.loudnessRangeLu)} LU`],
    ["true peak", `${formatDb(figures.truePeakDbtp, { digits: 2 })} dBTP`],
    ["sample peak", `${formatDb(figures.samplePeakDbfs, { digits: 2 })} dBFS`],
    ["RMS", `${formatDb(figures.rmsDbfs)} dBFS`],
    ["noise floor", `${formatDb(figures.noiseFloorDbfs)} dBFS`],
  ];
  print(file);
  for (const [name, text] of rows) print(`  ${name.padEnd(16)}${text}`);
}
