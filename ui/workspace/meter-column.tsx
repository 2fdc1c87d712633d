"use client";

import { RotateCcw } from "lucide-react";
import { useEffect, useMemo } from "react";
import { formatClock } from "@core/audio/format";
import { layoutForChannels } from "@core/audio/layout";
import { ArrangementMenu } from "@ui/meters/arrangement-menu";
import { arrangementFor, saveArrangement, useArrangements } from "@ui/meters/arrangement";
import { MeterSourceProvider, type MeterSource } from "@ui/meters/meter-source";
import { MeterStack } from "@ui/meters/meter-stack";
import { offerMeters, openMeterWindow } from "@ui/meters/meter-window";
import { useTimeFormatter } from "@ui/state/use-time-format";
import { Hint } from "@ui/design-system/hint";
import { useWorkspace } from "../state/workspace-store";
import { useCurrentItem } from "../state/current-item";
import { useWholeProgramme } from "../state/programme";
import { goToProgramme } from "../state/programme-listening";
import { engine } from "../state/listening-engine";

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
  const meters = useMemo<MeterSource>(() => {
    const sampleRate = heard?.sampleRate ?? facts?.sampleRate ?? 48_000;
    return {
      ring: () => engine().ring,
      speakers: (heard?.layout ?? source?.layout ?? layoutForChannels(2)).speakers,
      sampleRate,
      spec,
      scale: arrangement.scale,
      scheme: arrangement.scheme,
      words: (frame) => (heard || !facts ? formatClock(frame / sampleRate) : timeWords(frame / sampleRate, 1)),
      goTo(frame) {
        if (heard) return goToProgramme(frame / sampleRate, sampleRate);
        useWorkspace.setState({ cursor: frame / sampleRate });
        engine().seek(frame);
      },
      reset: () => engine().resetMeters(),
      onActivity: engine().onActivity,
    };
  }, [facts, heard, source, spec, arrangement.scale, arrangement.scheme, timeWords]);
  useEffect(() => offerMeters({ meters, template }), [meters, template]);
  return (
    <MeterSourceProvider value={meters}>
      <aside aria-label="Meters" className="flex min-h-0 flex-col border-l border-hair bg-sheet">
        <div className="flex shrink-0 items-center justify-between border-b border-hair px-1.5">
          <ArrangementMenu arrangement={arrangement} template={template} onOpenWindow={openMeterWindow} />
          <Hint text="Integrated loudness, range and held peaks begin anew" shortcut="R">
            <button
              type="button"
              aria-label="Reset meters"
              onClick={() => engine().resetMeters()}
              className="rounded-[4px] p-1.5 text-act hover:bg-act-ground"
            >
              <RotateCcw size={12} aria-hidden />
            </button>
          </Hint>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto">
          <MeterStack arrangement={arrangement} onChange={saveArrangement} />
        </div>
      </aside>
    </MeterSourceProvider>
  );
}
