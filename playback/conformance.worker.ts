/** Runs the standards' signals through the meter in use, on this machine; and writes them as WAV. */
import { CONFORMANCE_CASES } from "@core/conformance/cases";
import { runCase, type ConformanceResult } from "@core/conformance/run";
import { MemorySink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import { layoutNamed } from "@core/audio/layout";
import { framesOf } from "@core/audio/units";

export type ConformanceRequest =
  | { type: "run"; sampleRate: number }
  | { type: "write"; sampleRate: number; id: string; signal: number };

export type ConformanceAnswer =
  | { type: "results"; results: ConformanceResult[] }
  | { type: "done" }
  | { type: "signal"; name: string; bytes: Uint8Array<ArrayBuffer> };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: ConformanceAnswer) => scope.postMessage(message);

async function write(sampleRate: number, id: string, signal: number): Promise<void> {
  const one = CONFORMANCE_CASES.find((candidate) => candidate.id === id);
  if (!one) throw new Error(`There is no case ${id}.`);
  const block = one.make(signal, sampleRate);
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate, layout: layoutNamed(one.layout)!, format: "32f" });
  await writer.writeFloat(block, framesOf(block));
  await writer.finish();
  const number = one.signals > 1 ? `-${String(signal + 1).padStart(2, "0")}` : "";
  answer({ type: "signal", name: `${id}${number}-${sampleRate}.wav`, bytes: sink.bytes().slice() });
}

scope.onmessage = ({ data }: MessageEvent<ConformanceRequest>) => {
  if (data.type === "write") return void write(data.sampleRate, data.id, data.signal);
  for (const one of CONFORMANCE_CASES) answer({ type: "results", results: runCase(one, data.sampleRate) });
  answer({ type: "done" });
};
