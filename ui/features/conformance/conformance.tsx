"use client";

import { Select } from "@ui/design-system/controls";
import { FileDown, Play, Square } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { CONFORMANCE_CASES, CONFORMANCE_RATES, type Reading } from "@core/conformance/cases";
import type { ConformanceResult } from "@core/conformance/run";
import { formatDb, formatRate } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { PageHead } from "@ui/design-system/page-head";
import { ProgressBar } from "@ui/design-system/progress-bar";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { runConformance, saveSignal } from "./run-conformance";

const READINGS: Record<Reading, string> = {
  integratedLufs: "integrated",
  momentaryMaxLufs: "momentary maximum",
  shortTermMaxLufs: "short-term maximum",
  loudnessRangeLu: "range",
  truePeakDbtp: "true peak",
  shortTermThroughout: "short-term, throughout",
  momentaryThroughout: "momentary, throughout",
  shortTermMaxOfParts: "short-term maxima, live",
  momentaryMaxOfParts: "momentary maxima, live",
};
const READINGS_A_RATE = CONFORMANCE_CASES.reduce((sum, { expectations }) => sum + expectations.length, 0);

/** The standards' signals through the meter in use, on the machine at which one sits. */
export function Conformance() {
  const [rate, setRate] = useState<number>(48_000);
  const [results, setResults] = useState<ConformanceResult[]>([]);
  const [total, setTotal] = useState(READINGS_A_RATE);
  const [running, setRunning] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = useRef<AbortController>(null);
  useEffect(() => {
    document.title = "Proof of the meter · Resonum";
    return () => stop.current?.abort();
  }, []);
  const run = async (rates: readonly number[]) => {
    stop.current?.abort();
    const controller = new AbortController();
    stop.current = controller;
    setResults([]);
    setProblem(null);
    setRunning(true);
    setTotal(rates.length * READINGS_A_RATE);
    try {
      for (const one of rates) {
        if (controller.signal.aborted) break;
        setRate(one);
        await runConformance(one, controller.signal, (more) => setResults((all) => [...all, ...more]));
      }
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      if (stop.current === controller) setRunning(false);
    }
  };
  const passed = results.filter(({ pass }) => pass).length;
  return (
    <div className="flex h-screen flex-col">
      <PageHead
        title="Proof of the meter"
        help="The standards’ signals, made here and read by the very meter that reads your recordings."
      />
      <main className="mx-auto flex min-h-0 w-full max-w-[1180px] flex-1 flex-col px-6 py-4">
        <div className="mb-3 flex flex-wrap items-center gap-3">
          {CONFORMANCE_RATES.map((one) => (
            <button
              key={one}
              type="button"
              aria-pressed={rate === one}
              onClick={() => setRate(one)}
              disabled={running}
              className={`figure h-7 rounded-[4px] border px-2 ${rate === one ? "border-act bg-act-ground text-act" : "border-hair bg-sheet hover:border-act"}`}
            >
              {formatRate(one)}
            </button>
          ))}
          {running ? (
            <Button onClick={() => stop.current?.abort()}>
              <Square size={13} /> Stop
            </Button>
          ) : (
            <>
              <Button kind="main" onClick={() => void run([rate])}>
                <Play size={13} /> Prove at {formatRate(rate)}
              </Button>
              <Button onClick={() => void run(CONFORMANCE_RATES)} hint="About a minute and a half">
                At all six rates
              </Button>
            </>
          )}
          {(running || results.length > 0) && (
            <div className="ml-auto flex items-center gap-3" role="status" data-testid="proof-status">
              <div className="w-36">
                <ProgressBar fraction={results.length / total} label="Proving" />
              </div>
              <span className={passed === results.length ? "" : "text-outside"}>
                <span className="figure">
                  {passed} of {results.length}
                </span>{" "}
                within tolerance
              </span>
            </div>
          )}
        </div>
        {problem && <p className="pb-2 text-outside">{problem}</p>}
        <div className="min-h-0 flex-1 overflow-y-auto border border-hair bg-sheet">
          <ProofTable rate={rate} results={results} />
        </div>
        <p className="pt-2 text-label text-soft">
          Tolerances are those of EBU Tech 3341 (2023) and Tech 3342 (2023). Cases 7 and 8 of the one and 5 and 6 of the
          other are recordings that nobody can make again. A WAV of each signal holds any other meter to the same.
        </p>
      </main>
    </div>
  );
}

/** Every case at the chosen rate: what is expected, and what was read once it was. */
function ProofTable({ rate, results }: { rate: number; results: ConformanceResult[] }) {
  return (
    <table className="w-full" data-testid="proof">
      <thead className="text-left text-label text-soft">
        <tr className="h-8 border-b border-hair [&>th]:font-normal">
          <td className="w-9" />
          <th className="w-44">standard</th>
          <th>signal</th>
          <th className="w-44">reading</th>
          <th className="w-32 text-right">expected</th>
          <th className="w-28 text-right">read</th>
          <th className="w-28 pr-3 text-right">signal as WAV</th>
        </tr>
      </thead>
      <tbody>
        {CONFORMANCE_CASES.flatMap((one) =>
          one.expectations.map(({ reading, expected, below, above, unit }, index) => {
            const result = results.find(
              (candidate) => candidate.id === one.id && candidate.reading === reading && candidate.sampleRate === rate,
            );
            const wanted = result?.expected ?? (typeof expected === "number" ? expected : null);
            const tolerance = below === above ? `±${above}` : `+${above} −${below}`;
            return (
              <tr key={`${one.id}/${reading}`} className="h-[26px] border-b border-grid">
                <td className="pl-3">
                  <ComplianceMark status={result ? (result.pass ? "pass" : "fail") : "unknown"} />
                </td>
                <td className="whitespace-nowrap">{index === 0 && one.standard}</td>
                <td className="max-w-0 truncate pr-3" title={one.description}>
                  {index === 0 && one.description}
                </td>
                <td className="whitespace-nowrap">{READINGS[reading]}</td>
                <td className="figure text-right whitespace-nowrap">
                  {wanted === null ? "−38 … −19" : formatDb(wanted)}{" "}
                  <span className="text-label text-soft">{tolerance}</span>
                </td>
                <td className={`figure text-right whitespace-nowrap ${result && !result.pass ? "text-outside" : ""}`}>
                  {result ? formatDb(result.measured, { digits: 2 }) : "·"}{" "}
                  <span className="text-label text-soft">{unit}</span>
                </td>
                <td className="pr-3 text-right">
                  {index === 0 && <SignalButton id={one.id} signals={one.signals} rate={rate} />}
                </td>
              </tr>
            );
          }),
        )}
      </tbody>
    </table>
  );
}

function SignalButton({ id, signals, rate }: { id: string; signals: number; rate: number }) {
  const [signal, setSignal] = useState(0);
  return (
    <span className="inline-flex h-5 items-center gap-1">
      {signals > 1 && (
        <Select
          label="Which of the signals"
          value={signal}
          options={Array.from({ length: signals }, (_, i) => i)}
          words={(i) => String(i + 1)}
          onChange={setSignal}
          className="figure h-5 text-label"
        />
      )}
      <button
        type="button"
        aria-label={`Save the signal of ${id}`}
        title="Save this signal as a 32-bit float WAV"
        onClick={() => saveSignal(rate, id, signal)}
        className="rounded-[4px] px-1 text-act hover:bg-act-ground"
      >
        <FileDown size={14} />
      </button>
    </span>
  );
}
