"use client";

import { Trash2 } from "lucide-react";
import { useState } from "react";
import type { NoiseProfile } from "@core/repair/noise-profile";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { useCurrentItem } from "@ui/state/current-item";
import { newId } from "@ui/api/use-project";

/** Noises that the project keeps by name: this one is put among them, or one of them used here. */
export function ProfileLibrary({
  profile,
  onUse,
}: {
  profile: NoiseProfile | null;
  onUse: (profile: NoiseProfile, name: string) => void;
}) {
  const { view, edit, item } = useCurrentItem();
  const [name, setName] = useState("");
  const { noiseProfiles } = view.document;
  const same = noiseProfiles.find((kept) => JSON.stringify(kept.profile) === JSON.stringify(profile));
  if (!profile && noiseProfiles.length === 0) return null;
  const keep = () => {
    if (!profile) return;
    const words = name.trim() || `Noise of ${item?.name ?? "an item"}`;
    void edit({ type: "keepProfile", profile: { id: newId(), name: words, profile } });
    setName("");
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5 pt-1 text-label">
      {noiseProfiles.length > 0 && <span className="text-soft">Kept:</span>}
      {noiseProfiles.map((kept) => (
        <span key={kept.id} className="flex items-center rounded-[4px] border border-hair">
          <button
            type="button"
            aria-pressed={kept === same}
            title="Use this noise here"
            onClick={() => onUse(kept.profile, kept.name)}
            className={`h-6 max-w-44 truncate px-2 ${kept === same ? "bg-act-ground text-act" : ""}`}
          >
            {kept.name}
          </button>
          <IconButton
            label={`Forget ${kept.name}`}
            onClick={() => void edit({ type: "removeProfile", profile: kept.id })}
          >
            <Trash2 size={12} />
          </IconButton>
        </span>
      ))}
      {profile && !same && (
        <>
          <input
            aria-label="Name of this noise"
            placeholder="name"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && keep()}
            className="h-6 w-32 rounded-[4px] border border-hair bg-sheet px-2"
          />
          <Button onClick={keep} hint="For other items of this project, and as room tone">
            Keep this noise
          </Button>
        </>
      )}
    </div>
  );
}
