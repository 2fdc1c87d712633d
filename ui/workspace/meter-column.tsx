"use client";

import { RotateCcw } from "lucide-react";
import { useEffect, useRef } from "react";
import { formatDb } from "@core/signal/format";
import type { Ring } from "@audio/ring";
import { Hint } from "@ui/shared/hint";
import { useInHand } from "./in-hand";
import { engine } from "./listening";

const LOUDNESS = { low: -40, high: -5 };
const PEAK = { low: -40, high: 3 };

/** Live meters of what is heard, drawn by frames from shared memory: React does not take part while they move. */
export function MeterColumn() {
  const { spec, source } = useInHand();
  const root = useRef<HTMLElement>(null);
  useEffect(() => {
    let frame = 0;
    const draw = () => {
      if (root.current) drawMeters(root.current, engine().ring);
      frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, []);
  const loudnessLimit = spec?.limits.find(({ figure }) => figure === "integratedLufs");
  const peakLimit = spec?.limits.find(({ figure }) => figure === "truePeakDbtp")?.max;
  const labels = source?.layout?.speakers.map(({ label }) => label) ?? ["L", "R"];
  const target = spec?.targetLufs ?? loudnessLimit?.max;
  return (
    <aside
      ref={root}
      aria-label="Meters"
      className="flex min-h-0 flex-col overflow-y-auto border-l border-hair bg-sheet"
    >
      <Group title="Loudness now" unit="LUFS">
        <p className="figure text-[38px] leading-11 font-normal" data-meter="big">
          −∞
        </p>
        <p className="text-label text-soft" data-meter="big-words" data-target={target ?? ""}>
          short-term, of what is heard
        </p>
        {(["M", "S", "I"] as const).map((name) => (
          <Bar
            key={name}
            name={name}
            meter={name}
            mark={target === undefined ? undefined : share(target, LOUDNESS)}
            hint={{ M: "Momentary, 400 ms", S: "Short-term, 3 s", I: "Integrated since the meters were started" }[name]}
          />
        ))}
      </Group>
      <Group title="True peak" unit="dBTP, held">
        {labels.map((label, channel) => (
          <Bar
            key={label}
            name={label}
            meter={`peak-${channel}`}
            mark={peakLimit === undefined ? undefined : share(peakLimit, PEAK)}
            thin={labels.length > 2}
          />
        ))}
      </Group>
      <Group title="Correlation" unit={labels.length > 2 ? "of the fold-down, 400 ms" : "of the sides, 400 ms"}>
        <div
          className="relative mt-1 h-3 rounded-[2px]"
          style={{ background: "linear-gradient(90deg, #c2571a, #efe9d9 50%, #2a5fb0)" }}
        >
          <div data-meter="correlation" className="absolute -top-1 h-5 w-0.5 bg-ink" style={{ left: "50%" }} />
        </div>
        <div className="figure mt-1 flex justify-between text-label text-soft">
          <span>−1 opposed</span>
          <span data-meter="correlation-text">—</span>
          <span>+1 together</span>
        </div>
      </Group>
      <Group title="Gain reduction" unit="dB, limiter">
        <Bar name="" meter="reduction" fromRight hint="How much the chain's limiters take off at the moment" />
      </Group>
      <div className="mt-auto border-t border-hair p-2">
        <Hint text="Integrated loudness and held peaks begin anew" shortcut="R">
          <button
            type="button"
            onClick={() => engine().resetMeters()}
            className="flex items-center gap-1.5 rounded-[4px] px-1 text-act hover:bg-act-ground"
          >
            <RotateCcw size={13} aria-hidden /> Start meters afresh
          </button>
        </Hint>
      </div>
    </aside>
  );
}

function Group({ title, unit, children }: { title: string; unit: string; children: React.ReactNode }) {
  return (
    <section className="border-b border-hair px-3 py-2">
      <h2 className="flex justify-between text-label">
        {title}
        <span className="text-soft">{unit}</span>
      </h2>
      {children}
    </section>
  );
}

const share = (level: number, { low, high }: { low: number; high: number }) =>
  Math.max(0, Math.min(100, ((level - low) / (high - low)) * 100));

function Bar({
  name,
  meter,
  mark,
  thin,
  fromRight,
  hint,
}: {
  name: string;
  meter: string;
  mark?: number | undefined;
  thin?: boolean;
  fromRight?: boolean;
  hint?: string;
}) {
  const bar = (
    <div className={`grid grid-cols-[30px_1fr_46px] items-center gap-1 ${thin ? "h-[15px]" : "h-[19px]"}`}>
      <span className="text-label text-soft">{name}</span>
      <span className={`relative block bg-grid ${thin ? "h-1.5" : "h-2.5"}`}>
        <span
          data-meter={meter}
          className={`absolute inset-y-0 bg-ink ${fromRight ? "right-0" : "left-0"}`}
          style={{ width: "0%" }}
        />
        {mark !== undefined && <span className="absolute -inset-y-0.5 w-0.5 bg-outside" style={{ left: `${mark}%` }} />}
      </span>
      <span data-meter={`${meter}-text`} className="figure text-right text-label">
        −∞
      </span>
    </div>
  );
  return hint ? <Hint text={hint}>{bar}</Hint> : bar;
}

function set(root: HTMLElement, meter: string, change: (element: HTMLElement) => void): void {
  const element = root.querySelector<HTMLElement>(`[data-meter="${meter}"]`);
  if (element) change(element);
}

const setText = (root: HTMLElement, meter: string, text: string) =>
  set(root, meter, (element) => {
    if (element.textContent !== text) element.textContent = text;
  });

/** Writes what the engine measured into the column. Hot: runs every frame. */
function drawMeters(root: HTMLElement, ring: Ring | undefined): void {
  const loudness = {
    M: ring?.meter("momentaryLufs") ?? -Infinity,
    S: ring?.meter("shortTermLufs") ?? -Infinity,
    I: ring?.meter("integratedLufs") ?? -Infinity,
  };
  setText(root, "big", formatDb(loudness.S));
  set(root, "big-words", (element) => {
    const target = Number(element.dataset.target || NaN);
    const away = loudness.S - target;
    const text = Number.isFinite(away)
      ? `short-term · ${formatDb(Math.abs(away))} LU ${away < 0 ? "below" : "above"} target`
      : "short-term, of what is heard";
    if (element.textContent !== text) element.textContent = text;
  });
  for (const [name, level] of Object.entries(loudness)) {
    set(root, name, (element) => (element.style.width = `${share(level, LOUDNESS)}%`));
    setText(root, `${name}-text`, formatDb(level));
  }
  for (let c = 0; c < (ring?.channels ?? 2); c++) {
    const { nowDb, heldDb } = ring?.peak(c) ?? { nowDb: -Infinity, heldDb: -Infinity };
    set(root, `peak-${c}`, (element) => (element.style.width = `${share(nowDb, PEAK)}%`));
    setText(root, `peak-${c}-text`, formatDb(heldDb));
  }
  const correlation = ring?.meter("correlation") ?? NaN;
  set(
    root,
    "correlation",
    (element) => (element.style.left = `${Number.isFinite(correlation) ? ((correlation + 1) / 2) * 100 : 50}%`),
  );
  setText(
    root,
    "correlation-text",
    Number.isFinite(correlation) ? formatDb(correlation, { sign: true, digits: 2 }) : "—",
  );
  const reduction = ring?.meter("reductionDb") ?? 0;
  set(root, "reduction", (element) => (element.style.width = `${Math.min(100, (reduction / 12) * 100)}%`));
  setText(root, "reduction-text", formatDb(reduction === 0 ? 0 : -reduction));
}
