"use client";

import { useMemo, useState } from "react";
import type { RepairStep } from "@core/repair";
import { noiseProfileSchema, profileDb, type NoiseProfile } from "@core/repair/noise-profile";
import { quietStretches, type StretchJudgement } from "@core/repair/noise-stretch";
import { formatDb, formatTime } from "@core/signal/format";
import { Button } from "@ui/shared/button";
import { StandingMark } from "@ui/shared/standing-mark";
import { useDesk } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { recordingFrame } from "@ui/workspace/item-time";
import { learnInBrowser, type Learned } from "./learning";
import { soundUrl } from "@ui/workspace/use-stretch-figures";
import { showPlace } from "../inspect/show-place";
import type { ChangeStep } from "./step-editor";

const OFFERED = 3;

/** The profile that a noise step works by: learned from the selection or from one of the stretches that are offered. */
export function NoiseLearning({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { item } = useInHand();
  const selection = useDesk((desk) => desk.selection);
  const [judgement, setJudgement] = useState<StretchJudgement | null>(null);
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
    const answer = await learnInBrowser({ url, steps, range }).catch((error: Error): Learned => ({
      profile: null,
      judgement: { standing: "error", words: [error.message] },
    }));
    setBusy(false);
    setJudgement(answer.judgement);
    if (answer.profile)
      change(
        { learned: answer.profile },
        `learned from ${formatTime(selection.start, 2)} to ${formatTime(selection.end, 2)}`,
      );
  };
  return (
    <div className="my-1 border-y border-grid py-1.5" data-testid="noise-learning">
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
              onClick={() => showPlace(facts, start, end - start)}
            >
              {formatTime(start, 1)}
            </button>
          ))}
          {offered.length === 0 && "none"}
        </span>
      </div>
      {judgement && (
        <p className="flex gap-1.5 pt-1 text-label" role="status">
          <StandingMark
            standing={judgement.standing === "fit" ? "inside" : judgement.standing === "doubt" ? "close" : "outside"}
          />
          {judgement.standing === "fit"
            ? "A good stretch: long enough, steady, nothing else in it."
            : judgement.words.join(" ")}
        </p>
      )}
      {profile ? (
        <ProfileDrawing profile={profile} />
      ) : (
        <p className="pt-1 text-label text-soft">
          Without a profile the noise is followed by itself: good for speech with pauses, not for music.
        </p>
      )}
    </div>
  );
}

const WIDTH = 420;
const HEIGHT = 64;
const LOWEST_HZ = 40;

/** The noise's spectrum, per bin of 43 ms or so: what is learned is what is taken for noise. */
function ProfileDrawing({ profile }: { profile: NoiseProfile }) {
  const { paths, low, high } = useMemo(() => {
    const curves = profile.levels.map((_, c) => profileDb(profile, c));
    const all = curves.flatMap((curve) => [...curve]).filter((db) => db > -164);
    const [least, most] = [Math.floor(Math.min(...all) / 10) * 10, Math.ceil(Math.max(...all) / 10) * 10];
    const nyquist = profile.sampleRate / 2;
    const x = (hertz: number) =>
      (Math.log(Math.max(hertz, LOWEST_HZ) / LOWEST_HZ) / Math.log(nyquist / LOWEST_HZ)) * WIDTH;
    const y = (db: number) => HEIGHT - ((Math.max(db, least) - least) / Math.max(10, most - least)) * HEIGHT;
    return {
      low: least,
      high: most,
      paths: curves.map((curve) =>
        Array.from(
          curve,
          (db, k) => `${k === 0 ? "M" : "L"}${x((k * nyquist) / (curve.length - 1)).toFixed(1)},${y(db).toFixed(1)}`,
        ).join(""),
      ),
    };
  }, [profile]);
  return (
    <figure className="pt-1">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="h-16 w-full border border-grid"
        preserveAspectRatio="none"
        role="img"
        aria-label="Spectrum of the learned noise"
      >
        {paths.map((path, channel) => (
          <path
            key={channel}
            d={path}
            fill="none"
            stroke="var(--ink)"
            strokeOpacity={channel === 0 ? 1 : 0.5}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <figcaption className="figure flex justify-between text-label text-soft">
        <span>40 Hz</span>
        <span>
          learned from {profile.seconds.toFixed(2)} s; {formatDb(low, { digits: 0 })} to {formatDb(high, { digits: 0 })}{" "}
          dB
        </span>
        <span>{profile.sampleRate / 2000} kHz</span>
      </figcaption>
    </figure>
  );
}
