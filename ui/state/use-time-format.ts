"use client";

import { useMemo } from "react";
import { formatIn, type TimeContext } from "@core/audio/timecode";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useLanes } from "./lane-settings";

/** What times are told in: rate and tempo of the item, and the timecode that it begins at. */
export function useTimeContext({ sampleRate }: Pick<ItemFacts, "sampleRate">): TimeContext {
  const { item, facts } = useCurrentItem();
  const tempo = item?.tempo ?? null;
  const start = facts?.source.start_seconds ?? null;
  const startSeconds = start === null || !facts ? 0 : start + facts.editList.toRecording(0) / facts.sampleRate;
  return useMemo(() => ({ sampleRate, tempo, startSeconds }), [sampleRate, tempo, startSeconds]);
}

/** Times in the format that was chosen. */
export function useTimeFormatter(facts: Pick<ItemFacts, "sampleRate">): (seconds: number, decimals?: number) => string {
  const format = useLanes((lanes) => lanes.timeFormat);
  const time = useTimeContext(facts);
  return useMemo(() => (seconds, decimals) => formatIn(format, seconds, time, decimals), [format, time]);
}
