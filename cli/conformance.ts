import { mkdir } from "node:fs/promises";
import { join } from "node:path";
import { CONFORMANCE_CASES, CONFORMANCE_RATES } from "@core/conformance/cases";
import { runCase, type ConformanceResult } from "@core/conformance/run";
import { WavWriter } from "@core/files/wav-writer";
import { formatDb } from "@core/audio/format";
import { layoutNamed } from "@core/audio/layout";
import { framesOf } from "@core/audio/units";
import { FileSink } from "@server/storage/byte-files";
import { CliProblem, FAILS_SPEC, print, printJson } from "./outcome";

interface Options {
  rate?: string[];
  write?: string;
  json?: boolean;
}

/** `resonum conformance`: the standards' signals through the meter in use; exit 1 when one is misread. */
export async function conformance({ rate, write, json }: Options): Promise<void> {
  const rates = (rate ?? CONFORMANCE_RATES.map(String)).map((text) => {
    const known = CONFORMANCE_RATES.find((one) => one === Number(text));
    if (!known) throw new CliProblem(`Conformance runs at ${CONFORMANCE_RATES.join(", ")} Hz, not at "${text}".`);
    return known;
  });
  if (write !== undefined) return writeSignals(write, rates);
  const results: ConformanceResult[] = [];
  for (const sampleRate of rates) {
    if (!json) print(`${sampleRate} Hz`);
    for (const one of CONFORMANCE_CASES)
      for (const result of runCase(one, sampleRate)) {
        results.push(result);
        if (!json) printResult(result);
      }
  }
  const failed = results.filter(({ pass }) => !pass).length;
  if (failed > 0) process.exitCode = FAILS_SPEC;
  if (json) return printJson(results);
  print(`${results.length - failed} of ${results.length} readings are within the standards' tolerance.`);
}

function printResult({ pass, standard, reading, expected, below, above, measured, unit }: ConformanceResult): void {
  const digits = { digits: 2 };
  const tolerance = below === above ? `±${above}` : `+${above}/−${below}`;
  print(
    `  ${pass ? "pass" : "FAIL"}  ${standard.padEnd(24)}${reading.padEnd(22)}expected ${formatDb(expected, digits)} ${tolerance}, read ${formatDb(measured, digits)} ${unit}`,
  );
}

/** The signals as 32-bit float WAV, so that any other meter can be held to them. */
async function writeSignals(folder: string, rates: readonly number[]): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const sampleRate of rates)
    for (const one of CONFORMANCE_CASES)
      for (let signal = 0; signal < one.signals; signal++) {
        const name = `${one.id}${one.signals > 1 ? `-${String(signal + 1).padStart(2, "0")}` : ""}-${sampleRate}.wav`;
        const block = one.make(signal, sampleRate);
        const sink = await FileSink.create(join(folder, name)).catch((error: Error) => {
          throw new CliProblem(`${join(folder, name)} cannot be written: ${error.message}`);
        });
        const writer = await WavWriter.open(sink, { sampleRate, layout: layoutNamed(one.layout)!, format: "32f" });
        await writer.writeFloat(block, framesOf(block));
        await writer.finish();
        await sink.sync();
        await sink.close();
        print(join(folder, name));
      }
}
