"use client";

import { addressOf } from "@ui/api/api";
import { ImagePlus, X } from "lucide-react";
import { toast } from "sonner";
import { keepPhoto } from "@ui/api/keep-photo";
import { useCurrentItem } from "@ui/state/current-item";

interface CoverPickerProps {
  label: string;
  cover: string | undefined;
  /** Size and place. */
  className: string;
  /** Under the picture's sign, where there is room. */
  words?: string;
  onPick: (cover: string | undefined) => void;
}

/** The picture that masters carry: shown, chosen, taken away. */
export function CoverPicker({ label, cover, className, words, onPick }: CoverPickerProps) {
  const { view } = useCurrentItem();
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      onPick(await keepPhoto(view.id, file));
    } catch (error) {
      const description = error instanceof Error ? error.message : String(error);
      toast.error(`${label}: the picture was not taken in`, { description });
    }
  };
  if (cover)
    return (
      <div className={`group relative ${className}`}>
        <img
          src={addressOf("GET /api/photos/{hash}", { params: { hash: cover } })}
          alt={label}
          className="size-full border border-hair object-cover"
        />
        <button
          type="button"
          aria-label={`Remove the ${label.toLowerCase()}`}
          title={`Remove the ${label.toLowerCase()}`}
          className="absolute top-0 right-0 bg-sheet text-soft opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100"
          onClick={() => onPick(undefined)}
        >
          <X size={13} />
        </button>
      </div>
    );
  return (
    <label
      title={`${label}: JPEG or PNG`}
      className={`flex cursor-pointer flex-col items-center justify-center gap-1 border border-dashed border-hair text-center text-label text-act focus-within:border-act hover:border-act ${className}`}
    >
      <ImagePlus size={words ? 16 : 12} /> {words}
      <input
        type="file"
        accept="image/jpeg,image/png"
        aria-label={label}
        className="sr-only"
        onChange={(event) => void take(event.target.files?.[0])}
      />
    </label>
  );
}
