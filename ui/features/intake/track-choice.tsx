"use client";

import type { SoundTrack, Source } from "@core/project/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Select } from "@ui/design-system/controls";

/** Which of a file's sound tracks is used; nothing where it has one. */
export function TrackChoice({ source: { hash, tracks, track } }: { source: Source }) {
  if (!tracks) return null;
  return (
    <Select
      label="Sound track"
      value={track}
      options={tracks.map((_, index) => index)}
      words={(index) => trackLabel(tracks[index]!, index)}
      onChange={(next) =>
        told(
          api(`sources/${hash}/track`, { method: "PUT", body: { track: next } }),
          "The sound track could not be changed",
        )
      }
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
