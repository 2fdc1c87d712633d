"use client";

import { useMemo } from "react";
import { formatIn, type TimeContext, type TimeFormat } from "@core/audio/timecode";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useLanes } from "./lane-settings";

/** What times are told in: rate and tempo of the item, and the timecode that it begins at. */
export function useTimeContext({ sampleRate }: Pick<ItemFacts, "sampleRate">): TimeContext {
  const { item, facts } = useCurrentItem();
  const tempo = item?.tempo ?? null;
  const start = facts?.source.start_seconds ?? null;
  const startSeconds = start === null || !facts ? 0 : start + facts.editList.toRecording(0) / facts.sampleRate;
  const blockSamples = useLanes((lanes) => lanes.blockSamples);
  return useMemo(
    () => ({ sampleRate, tempo, startSeconds, blockSamples }),
    [sampleRate, tempo, startSeconds, blockSamples],
  );
}

/** Times in the format that was chosen, or in another one. */
export function useTimeFormatter(
  facts: Pick<ItemFacts, "sampleRate">,
  other?: TimeFormat | null,
): (seconds: number, decimals?: number) => string {
  const chosen = useLanes((lanes) => lanes.timeFormat);
  const format = other ?? chosen;
  const time = useTimeContext(facts);
  return useMemo(() => (seconds, decimals) => formatIn(format, seconds, time, decimals), [format, time]);
}
