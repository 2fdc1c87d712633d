"use client";

import { toast } from "sonner";
import type { Item } from "@core/project/document";
import type { SoundTrack, Source } from "@core/project/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";

/** Items that were worked on by what another track holds. */
function tellOfWork(items: readonly Item[]): void {
  const worked = items.filter(({ clips, repairs }) => clips || repairs.length > 0).map(({ name }) => `“${name}”`);
  if (worked.length === 0) return;
  toast.warning("Cuts and repairs were made on another sound track", {
    description: `They are kept at their times: listen through ${worked.join(", ")}, or choose the former track again.`,
  });
}

/** Which of a file's sound tracks is used; nothing where it has one. */
export function TrackChoice({ source: { hash, tracks, track } }: { source: Source }) {
  const { items } = useCurrentItem().view.document;
  if (!tracks) return null;
  return (
    <Select
      label="Sound track"
      value={track}
      options={tracks.map((_, index) => index)}
      words={(index) => trackLabel(tracks[index]!, index)}
      onChange={(next) => {
        const chosen = api("PUT /api/sources/{hash}/track", { params: { hash }, body: { track: next } });
        told(chosen, "The sound track could not be changed");
        void chosen.then(
          () => tellOfWork(items.filter(({ source }) => source === hash)),
          () => undefined, // was told
        );
      }}
      className="h-5 text-label"
    />
  );
}

const languages = new Intl.DisplayNames("en", { type: "language", fallback: "code" });

/** "track 2, Commentary, German, 2 channels". */
export function trackLabel({ title, language, channels, encoding }: SoundTrack, index: number): string {
  const parts = [title, language && languages.of(language), `${channels} ${channels === 1 ? "channel" : "channels"}`];
  return [`track ${index + 1}`, ...parts.filter(Boolean), encoding].join(", ");
}
