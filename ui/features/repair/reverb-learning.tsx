"use client";

import { useState } from "react";
import type { RepairStep } from "@core/repair";
import { formatDb } from "@core/audio/format";
import type { NoiseProfileQuality } from "@core/repair/noise-profile-quality";
import { Button } from "@ui/design-system/button";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { recordingFrame } from "@ui/state/item-time";
import { soundUrl } from "@ui/state/use-range-figures";
import { ProfileQuality } from "./profile-quality";
import { estimateInBrowser } from "./profile-estimation";
import type { ChangeStep } from "./change-step";

/** How long the room rings on and how loud, learned from the ends of words. */
export function ReverbLearning({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { item } = useCurrentItem();
  const selection = useWorkspace((workspace) => workspace.selection);
  const [quality, setQuality] = useState<NoiseProfileQuality | null>(null);
  const [busy, setBusy] = useState(false);
  const learn = async () => {
    const url = facts.source.pcm_hash && soundUrl(facts.source.pcm_hash);
    if (!url || !item) return;
    setBusy(true);
    const { start, end } = selection ?? { start: 0, end: facts.duration };
    try {
      const learned = await estimateInBrowser({
        what: "tail",
        url,
        steps: item.repairs.slice(
          0,
          item.repairs.findIndex(({ id }) => id === step.id),
        ),
        ranges: [{ start: recordingFrame(facts, start), end: recordingFrame(facts, end) }],
      });
      setQuality(learned.quality);
      if (learned.tail) {
        const { reverberantToDirectDb } = learned.tail;
        const rt60Seconds = Math.max(0.1, Math.min(4, Math.round(learned.tail.rt60Seconds * 20) / 20));
        change(
          { rt60Seconds, reverberantToDirectDb },
          `tail learned, ${rt60Seconds} s at ${formatDb(reverberantToDirectDb)} dB`,
        );
      }
    } catch (error) {
      setQuality({ standing: "error", remarks: [error instanceof Error ? error.message : String(error)] });
    }
    setBusy(false);
  };
  return (
    <div className="py-1">
      <Button
        disabled={busy}
        onClick={() => void learn()}
        hint="How long it is and how loud, from how the ends of words fall; up to a minute of it"
      >
        {busy ? "Learning …" : `Learn the tail from ${selection ? "the selection" : "the item"}`}
      </Button>
      {quality && <ProfileQuality quality={quality} fit="Enough ends of words fall freely." />}
    </div>
  );
}
