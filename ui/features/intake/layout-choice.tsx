"use client";

import { useState } from "react";
import type { Layout } from "@core/audio/layout";
import type { Source } from "@core/project/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { useCurrentItem } from "@ui/state/current-item";
import { LayoutDialog } from "./layout-dialog";

/** The layout of a recording; of more than two channels it can be changed, and is asked for where nothing told it. */
export function LayoutChoice({ source, channels }: { source: Source; channels: number }) {
  const [asking, setAsking] = useState(false);
  const { view } = useCurrentItem();
  const { layout } = source;
  if (!layout) return null;
  if (channels <= 2) return <span>{layout.name}</span>;
  const assumed =
    !source.layout_chosen && source.warnings.some((warning) => warning.includes("which channel is which"));
  const alike = view.sources.filter(({ hash, figures }) => hash !== source.hash && figures?.channels === channels);
  const choose = (chosen: Layout, forAll: boolean) => {
    setAsking(false);
    for (const { hash } of forAll ? [source, ...alike] : [source])
      told(
        api("PUT /api/sources/{hash}/layout", { params: { hash }, body: { layout: chosen } }),
        "The layout could not be set",
      );
  };
  return (
    <>
      <button
        type="button"
        onClick={() => setAsking(true)}
        title="Channel layout: loudness depends on it"
        className="text-act hover:underline"
      >
        {assumed ? `${layout.name}? Say which channel is which` : layout.name}
      </button>
      {asking && (
        <LayoutDialog
          source={source}
          channels={channels}
          alike={alike.length}
          onChoose={choose}
          onClose={() => setAsking(false)}
        />
      )}
    </>
  );
}
