"use client";

import { useMemo } from "react";
import { formatIn, type TimeContext } from "@core/audio/timecode";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useLanes } from "./lane-settings";

/** What times are told in: rate and tempo of the item. */
export function useTimeContext({ sampleRate }: Pick<ItemFacts, "sampleRate">): TimeContext {
  const { item } = useCurrentItem();
  const tempo = item?.tempo ?? null;
  return useMemo(() => ({ sampleRate, tempo }), [sampleRate, tempo]);
}

/** Times in the format that was chosen. */
export function useTimeFormatter(facts: Pick<ItemFacts, "sampleRate">): (seconds: number, decimals?: number) => string {
  const format = useLanes((lanes) => lanes.timeFormat);
  const time = useTimeContext(facts);
  return useMemo(() => (seconds, decimals) => formatIn(format, seconds, time, decimals), [format, time]);
}
