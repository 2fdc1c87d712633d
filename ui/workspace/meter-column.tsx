"use client";

import { ChevronLeft, RotateCcw } from "lucide-react";
import { useCallback, useEffect, useMemo, useState } from "react";
import { formatClock } from "@core/audio/format";
import { layoutForChannels } from "@core/audio/layout";
import { ArrangementMenu } from "@ui/meters/arrangement-menu";
import { arrangementFor, saveArrangement, useArrangements } from "@ui/meters/arrangement";
import { MeterSourceProvider, type MeterSource } from "@ui/meters/meter-source";
import { MeterStack } from "@ui/meters/meter-stack";
import { offerMeters, openMeterWindow } from "@ui/meters/meter-window";
import { useTimeFormatter } from "@ui/state/use-time-format";
import { Hint } from "@ui/design-system/hint";
import { FOLDED_METERS, togglePanel } from "../state/panel-sizes";
import { useWorkspace } from "../state/workspace-store";
import { useInputMeter } from "../state/recording";
import { useCurrentItem } from "../state/current-item";
import { useWholeProgramme } from "../state/programme";
import { goToProgramme } from "../state/programme-listening";
import { engine } from "../state/listening-engine";

/** Whether the column is too narrow for meters. */
function useFolded(): [boolean, (column: HTMLElement | null) => void] {
  const [width, setWidth] = useState(Infinity);
  const column = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const seen = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    seen.observe(element);
    return () => seen.disconnect();
  }, []);
  return [width <= 2 * FOLDED_METERS, column];
}

/** The meters that the person chose, on what is heard; React does not take part while they move. */
export function MeterColumn() {
  const { spec, source, facts, view } = useCurrentItem();
  const kept = useArrangements();
  const { template } = view.document;
  const arrangement = arrangementFor(template, kept);
  const timeWords = useTimeFormatter(facts ?? { sampleRate: 48_000 });
  const { timeline } = useWholeProgramme();
  const isProgramme = useWorkspace((workspace) => workspace.stage === "sequence");
  const heard = isProgramme ? timeline : null;
  const input = useInputMeter();
  const meters = useMemo<MeterSource>(() => {
    const sampleRate = input?.sampleRate ?? heard?.sampleRate ?? facts?.sampleRate ?? 48_000;
    return {
      ring: () => input?.ring ?? engine().ring,
      speakers: (input?.layout ?? heard?.layout ?? source?.layout ?? layoutForChannels(2)).speakers,
      sampleRate,
      spec,
      scale: arrangement.scale,
      scheme: arrangement.scheme,
      words: (frame) => (heard || !facts ? formatClock(frame / sampleRate) : timeWords(frame / sampleRate, 1)),
      goTo(frame) {
        if (input) return; // of what comes in no place can be gone to
        if (heard) return goToProgramme(frame / sampleRate, sampleRate);
        useWorkspace.setState({ cursor: frame / sampleRate });
        engine().seek(frame);
      },
      reset: () => (input ? input.reset() : engine().resetMeters()),
      onActivity: engine().onActivity,
    };
  }, [facts, heard, input, source, spec, arrangement.scale, arrangement.scheme, timeWords]);
  useEffect(() => offerMeters({ meters, template }), [meters, template]);
  const [folded, column] = useFolded();
  if (folded)
    return (
      <aside ref={column} aria-label="Meters" className="h-full bg-sheet">
        <button
          type="button"
          aria-label="Unfold the meters"
          title="Unfold the meters"
          onClick={() => togglePanel("meters", useWorkspace.getState().stage)}
          className="flex h-full w-full flex-col items-center gap-2 py-2 text-soft hover:bg-act-ground hover:text-act"
        >
          <ChevronLeft size={13} aria-hidden />
          <span className="text-label [writing-mode:vertical-rl]">Meters</span>
        </button>
      </aside>
    );
  return (
    <MeterSourceProvider value={meters}>
      <aside ref={column} aria-label="Meters" className="flex h-full min-h-0 flex-col bg-sheet">
        <div className="flex shrink-0 items-center justify-between border-b border-hair px-1.5">
          <ArrangementMenu arrangement={arrangement} template={template} onOpenWindow={openMeterWindow} />
          <Hint text="Integrated loudness, range and held peaks begin anew" shortcut="R">
            <button
              type="button"
              aria-label="Reset meters"
              onClick={meters.reset}
              className="rounded-[4px] p-1.5 text-act hover:bg-act-ground"
            >
              <RotateCcw size={12} aria-hidden />
            </button>
          </Hint>
        </div>
        {input && (
          <p role="status" className="border-b border-hair bg-band px-3 py-0.5 text-label">
            ● on the input, {input.layout.name}
          </p>
        )}
        <div className="min-h-0 flex-1 overflow-y-auto">
          <MeterStack arrangement={arrangement} onChange={saveArrangement} />
        </div>
      </aside>
    </MeterSourceProvider>
  );
}
