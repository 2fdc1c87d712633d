"use client";

import { useEffect, useState } from "react";
import { EditList } from "@core/edit-list/edit-list";
import type { Item } from "@core/project/document";
import { blobUrl } from "@ui/api/api";
import { useCurrentItem } from "./current-item";
import { ItemWaveform } from "./item-waveform";
import { RecordingOverview } from "./recording-overview";

/** Opens the waveform of an item that need not be in hand; `onArrival` is called when more of it can be drawn. */
export function useItemWaveform(item: Item | undefined, onArrival: () => void): ItemWaveform | null {
  const { view } = useCurrentItem();
  const source = view.sources.find(({ hash }) => hash === item?.source);
  const [opened, setOpened] = useState<{ hash: string; recording: RecordingOverview } | null>(null);
  const overview = source?.overview_hash ?? null;
  const pcm = source?.pcm_hash ?? null;
  useEffect(() => {
    if (!overview || !pcm) return;
    let current = true;
    const take = (recording: RecordingOverview) => {
      if (current) setOpened({ hash: overview, recording });
    };
    RecordingOverview.open(blobUrl(overview), blobUrl(pcm), onArrival, take).catch(() => undefined); // not drawn
    return () => {
      current = false;
    };
  }, [overview, pcm, onArrival]);
  if (!opened || opened.hash !== overview || !item) return null;
  return new ItemWaveform(opened.recording, EditList.of(item.clips, opened.recording.header.frames));
}
