"use client";

import type { ComponentProps } from "react";
import type { ItemColour } from "@core/project/document";

/** Colour that an item is marked with; its word stands in tooltips, as colour alone tells nothing. */
export const itemColour = (colour: ItemColour | undefined): string =>
  colour ? `var(--item-${colour})` : "transparent";

/** One of the colours that items can have, or none. */
export function ColourSwatch({
  colour,
  className = "",
  ...button
}: { colour: ItemColour | null } & ComponentProps<"button">) {
  return (
    <button
      type="button"
      {...button}
      aria-label={colour ? `Colour: ${colour}` : "No colour"}
      title={colour ?? "no colour"}
      className={`grid size-5 place-items-center rounded-[3px] hover:bg-sheet ${className}`}
    >
      <span
        className={`size-3 rounded-[2px] ${colour ? "" : "border border-dashed border-soft"}`}
        style={{ background: colour ? itemColour(colour) : "transparent" }}
      />
    </button>
  );
}
