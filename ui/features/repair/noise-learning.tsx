"use client";

import { useMemo, useState } from "react";
import { create } from "zustand";
import type { RepairStep } from "@core/repair";
import { noiseProfileSchema } from "@core/repair/noise-profile";
import {
  enoughOf,
  quietStretches,
  type NoiseProfileQuality,
  type QuietStretch,
} from "@core/repair/noise-profile-quality";
import type { Band } from "@core/dsp/butterworth";
import { formatDb, formatHertz, formatTime } from "@core/audio/format";
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
/** Short pauses at most that are learned from together. */
const JOINED = 12;
/** A single pause that is as long is enough by itself. */
const ENOUGH_SECONDS = 1;

const bandLabel = ({ low, high }: Band): string => `${formatHertz(low)} to ${formatHertz(high)}`;

const secondsOf = (stretches: readonly Pick<QuietStretch, "start" | "end">[]): number =>
  stretches.reduce((sum, { start, end }) => sum + end - start, 0);

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
  const { offered, joined } = useMemo(() => {
    const { values, hopSeconds } = facts.curves.rmsDbfs;
    const quiet = quietStretches(values, hopSeconds, JOINED);
    const [longest] = quiet;
    const isShort = longest !== undefined && secondsOf([longest]) < ENOUGH_SECONDS && quiet.length > 1;
    return { offered: quiet.slice(0, OFFERED), joined: isShort ? enoughOf(quiet) : [] };
  }, [facts.curves]);
  const learn = async (stretches: readonly Pick<QuietStretch, "start" | "end">[], band?: Band) => {
    const url = facts.source.pcm_hash && soundUrl(facts.source.pcm_hash);
    if (!url || stretches.length === 0 || !item) return;
    setBusy(true);
    const steps = item.repairs.slice(
      0,
      item.repairs.findIndex(({ id }) => id === step.id),
    );
    const ranges = stretches.map(({ start, end }) => ({
      start: recordingFrame(facts, start),
      end: recordingFrame(facts, end),
    }));
    const answer = await estimateInBrowser({ what: "noise", url, steps, ranges, ...(band ? { band } : {}) }).catch(
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
        stretches.length === 1
          ? `learned from ${formatTime(stretches[0]!.start, 2)} to ${formatTime(stretches[0]!.end, 2)}${band ? `, ${bandLabel(band)}` : ""}`
          : `learned from ${stretches.length} pauses, ${secondsOf(stretches).toFixed(1)} s`,
      );
  };
  return (
    <div className="py-1" data-testid="noise-learning">
      <div className="flex flex-wrap items-center gap-2">
        <Button
          kind={profile ? "plain" : "main"}
          disabled={!selection || busy}
          onClick={() => selection && void learn([selection], selection.band ?? undefined)}
          hint={
            selection?.band
              ? "Takes what lies in the box for nothing but the noise; only this band is turned down, all else stays"
              : "Takes the selection for nothing but the noise; a box in a spectrogram is learned of its band alone"
          }
        >
          {busy
            ? "Learning …"
            : selection?.band
              ? `Learn ${bandLabel(selection.band)} alone`
              : "Learn from the selection"}
        </Button>
        {profile && (
          <Button
            onClick={() => change({ learned: undefined }, "follows the noise by itself")}
            hint="Forgets the profile"
          >
            Follow by itself
          </Button>
        )}
        {joined.length > 0 && (
          <Button
            disabled={busy}
            onClick={() => void learn(joined)}
            hint="No single pause is a second long: these are learned from together"
          >
            Learn from {joined.length} pauses, {secondsOf(joined).toFixed(1)} s
          </Button>
        )}
        <span className="text-label text-soft">
          Quiet places:{" "}
          {offered.map(({ start, end, levelDb }) => (
            <button
              key={start}
              type="button"
              className="figure mr-1.5 text-act hover:underline"
              title={`${(end - start).toFixed(2)} s at ${formatDb(levelDb)} dBFS RMS: select and show`}
              onClick={() => showRange(facts, start, end - start)}
            >
              {formatTime(start, 1)} ({(end - start).toFixed(1)} s)
            </button>
          ))}
          {offered.length === 0 && "none: nothing lies far enough under the programme for a quarter of a second"}
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
