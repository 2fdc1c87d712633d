"use client";

import { useMemo, useState } from "react";
import { create } from "zustand";
import type { RepairStep } from "@core/repair";
import { noiseProfileSchema } from "@core/repair/noise-profile";
import { quietStretches, type NoiseProfileQuality } from "@core/repair/noise-profile-quality";
import { formatDb, formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { recordingFrame } from "@ui/state/item-time";
import { estimateInBrowser, type ProfileEstimate } from "./profile-estimation";
import { soundUrl } from "@ui/state/use-range-figures";
import { ProfileQuality } from "./profile-quality";
import { ProfileLibrary } from "./profile-library";
import { ProfileDrawing } from "./profile-drawing";
import { showRange } from "../../state/show-range";
import type { ChangeStep } from "./change-step";

const OFFERED = 3;

/** How the stretch was judged that a step learned from last; kept here, for its panel may be made anew meanwhile. */
const useQualities = create<{ of: Record<string, NoiseProfileQuality> }>(() => ({ of: {} }));

/** The profile that a noise step works by: learned from the selection or from one of the stretches that are offered. */
export function NoiseLearning({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { item } = useCurrentItem();
  const selection = useWorkspace((workspace) => workspace.selection);
  const id = step.id ?? "";
  const quality = useQualities(({ of }) => of[id]) ?? null;
  const setJudgement = (next: NoiseProfileQuality) =>
    useQualities.setState(({ of }) => ({ of: { ...of, [id]: next } }));
  const [busy, setBusy] = useState(false);
  const profile = useMemo(() => noiseProfileSchema.safeParse(step.learned).data, [step.learned]);
  const offered = useMemo(() => {
    const { values, hopSeconds } = facts.curves.samplePeakDbfs;
    return quietStretches(values, hopSeconds, OFFERED);
  }, [facts.curves]);
  const learn = async () => {
    const url = facts.source.pcm_hash && soundUrl(facts.source.pcm_hash);
    if (!url || !selection || !item) return;
    setBusy(true);
    const steps = item.repairs.slice(
      0,
      item.repairs.findIndex(({ id }) => id === step.id),
    );
    const range = { start: recordingFrame(facts, selection.start), end: recordingFrame(facts, selection.end) };
    const answer = await estimateInBrowser({ what: "noise", url, steps, range }).catch(
      (error: Error): ProfileEstimate => ({
        profile: null,
        tail: null,
        quality: { standing: "error", remarks: [error.message] },
      }),
    );
    setBusy(false);
    setJudgement(answer.quality);
    if (answer.profile)
      change(
        { learned: answer.profile },
        `learned from ${formatTime(selection.start, 2)} to ${formatTime(selection.end, 2)}`,
      );
  };
  return (
    <div className="py-1" data-testid="noise-learning">
      <div className="flex flex-wrap items-center gap-2">
        <Button
          kind={profile ? "plain" : "main"}
          disabled={!selection || busy}
          onClick={() => void learn()}
          hint="Takes the selection for nothing but the noise"
        >
          {busy ? "Learning …" : "Learn from the selection"}
        </Button>
        {profile && (
          <Button
            onClick={() => change({ learned: undefined }, "follows the noise by itself")}
            hint="Forgets the profile"
          >
            Follow by itself
          </Button>
        )}
        <span className="text-label text-soft">
          Quiet places:{" "}
          {offered.map(({ start, end, peakDb }) => (
            <button
              key={start}
              type="button"
              className="figure mr-1.5 text-act hover:underline"
              title={`Peaks at ${formatDb(peakDb)} dBFS: select and show`}
              onClick={() => showRange(facts, start, end - start)}
            >
              {formatTime(start, 1)}
            </button>
          ))}
          {offered.length === 0 && "none"}
        </span>
      </div>
      <ProfileLibrary profile={profile ?? null} onUse={(learned, name) => change({ learned }, `the noise “${name}”`)} />
      {quality && <ProfileQuality quality={quality} fit="A good stretch: long enough, steady, nothing else in it." />}
      {profile ? (
        <ProfileDrawing profile={profile} onEdit={(learned, what) => change({ learned }, what)} />
      ) : (
        <p className="pt-1 text-label text-soft">
          Without a profile the noise is followed by itself: good for speech with pauses, not for music.
        </p>
      )}
    </div>
  );
}
