"use client";

import { useState } from "react";
import { toast } from "sonner";
import { enoughOf, quietStretches } from "@core/repair/noise-profile-quality";
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import { useCutSettings } from "@ui/state/edit-actions";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { recordingFrame } from "@ui/state/item-time";
import { soundUrl } from "@ui/state/use-range-figures";
import { estimateInBrowser } from "./profile-estimation";

/** Pauses at most that it is learned from together. */
const MOST_PLACES = 8;

/** What room tone is like: learned from a quiet place of this recording, or one of the noises kept by name. */
export function RoomTone({ facts, insert }: { facts: ItemFacts; insert: () => void }) {
  const { view } = useCurrentItem();
  const { tone, fill } = useCutSettings();
  const [from, setFrom] = useState("quiet");
  const { noiseProfiles } = view.document;
  const learn = async () => {
    const { values, hopSeconds } = facts.curves.rmsDbfs;
    const quiet = enoughOf(quietStretches(values, hopSeconds, MOST_PLACES));
    const url = facts.source.pcm_hash && soundUrl(facts.source.pcm_hash);
    if (quiet.length === 0 || !url)
      return toast.error("No place is quiet enough", {
        description:
          "A quarter of a second without speech is needed: select one, and learn a noise from it in a noise step.",
      });
    const ranges = quiet.map(({ start, end }) => ({
      start: recordingFrame(facts, start),
      end: recordingFrame(facts, end),
    }));
    try {
      const { profile } = await estimateInBrowser({ what: "noise", url, steps: facts.item.repairs, ranges });
      useCutSettings.setState({ tone: profile });
      return profile;
    } catch (error) {
      toast.error("The room tone could not be learned", { description: String(error) });
    }
  };
  const choose = (next: string) => {
    setFrom(next);
    const kept = noiseProfiles.find(({ id }) => id === next);
    if (kept) useCutSettings.setState({ tone: kept.profile });
    else void learn();
  };
  const ready = async () => {
    if (useCutSettings.getState().tone === null) await learn();
    if (useCutSettings.getState().tone !== null) insert();
  };
  return (
    <>
      <Button onClick={() => void ready()} hint="Noise like the room's own, made so that it does not repeat">
        Insert room tone
      </Button>
      <Select
        label="What the room tone is like"
        value={from}
        options={["quiet", ...noiseProfiles.map(({ id }) => id)]}
        words={(id) => noiseProfiles.find((one) => one.id === id)?.name ?? "like the quietest place"}
        onChange={choose}
      />
      {fill === "room tone" && tone === null && (
        <button type="button" className="text-label text-act" onClick={() => void learn()}>
          learn it first
        </button>
      )}
    </>
  );
}
