"use client";

/** Keeps the engine on the programme while it is in hand, and gives what can be heard of it. */
import { useEffect, useMemo } from "react";
import type { PlaybackPlan } from "@playback/playback-reader";
import { DEFAULT_SETTINGS, OWN_SOURCE } from "@playback/player";
import { levelsOf, loudnessOf } from "@core/delivery/predict-chain";
import { joinsOf, type Join } from "@core/programme/timeline";
import { useCurrentItem } from "./current-item";
import { startAudition, useAudition, type Stretch } from "./audition";
import { engine } from "./listening-engine";
import { useWholeProgramme, type ProgrammeInHand } from "./programme";
import { programmePlanOf } from "./programme-plan";
import { useWorkspace, type WorkspaceState } from "./workspace-store";

/** Gain that brings what is heard to the loudness of the recordings as they came, by a mean of all items. */
function useMatchingGain(): number {
  const { levels, order, known } = useWholeProgramme();
  return useMemo(() => {
    const changes = order.flatMap((item) => {
      const facts = known(item);
      const now = levels?.items.get(item.id)?.integratedLufs ?? null;
      const came = facts && loudnessOf(levelsOf(facts.figures, facts.curves));
      return now !== null && came !== null && Number.isFinite(came) ? [came - now] : [];
    });
    return changes.length > 0 ? changes.reduce((sum, change) => sum + change, 0) / changes.length : 0;
  }, [levels, order, known]);
}

/** Plays the programme instead of the item in hand. */
export function useProgrammeListening(): { matchedDb: number } {
  const { view } = useCurrentItem();
  const { items, timeline, join } = useWholeProgramme();
  const { monitorSource, levelMatched, monitor, loopingJoin, joinRolls } = useWorkspace();
  const heard = monitorSource === "original" ? "original" : "now";
  const matchedDb = useMatchingGain();
  const { document, sources } = view;
  const programme = useMemo(
    () => timeline && programmePlanOf(document, items, timeline, sources, heard),
    [document, items, timeline, sources, heard],
  );
  const { chain } = document;
  const plan = useMemo((): PlaybackPlan => {
    const gainDb = levelMatched && heard === "now" ? matchedDb : 0;
    return { main: { ...OWN_SOURCE, chain: heard === "now" ? chain : [], gainDb }, subtract: null };
  }, [chain, heard, levelMatched, matchedDb]);
  const loop = useMemo(
    () =>
      loopingJoin && join && timeline ? stretchOfJoin(join, timeline.frames, timeline.sampleRate, joinRolls) : null,
    [loopingJoin, join, timeline, joinRolls],
  );
  const sampleRate = timeline?.sampleRate ?? 0;
  const layout = timeline?.layout.name ?? null;
  const track = programme && layout ? `${sampleRate} ${layout}` : null;

  useEffect(() => {
    if (!track || !programme) return;
    const position = Math.round(useWorkspace.getState().programmeCursor * sampleRate);
    const { layout: shape } = programme.timeline;
    engine().open({ sound: programme, sampleRate, layout: shape }, DEFAULT_SETTINGS, position);
    return () => {
      useAudition.setState({ audition: null });
      engine().close();
    };
    // Other changes of the programme are told to the open one.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [track, sampleRate]);
  useEffect(() => {
    if (track && programme) engine().setProgramme(programme);
  }, [track, programme]);
  useEffect(() => {
    if (track) engine().set({ plan });
  }, [track, plan]);
  useEffect(() => {
    if (track) engine().set({ loop });
  }, [track, loop]);
  useEffect(() => {
    if (track) engine().set({ monitor });
  }, [track, monitor]);
  useEffect(() => {
    if (loop && (engine().position < loop.start || engine().position >= loop.end)) engine().seek(loop.start);
    // A loop that is dragged along is not gone back to each time.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [loop !== null]);
  return { matchedDb: plan.main.gainDb };
}

type Rolls = WorkspaceState["joinRolls"];

/** What is heard of a join: some seconds before the outgoing sound is over, or the next begins, and after. */
export const stretchOfJoin = ({ from, to }: Join, frames: number, sampleRate: number, { before, after }: Rolls) => ({
  start: Math.max(0, Math.round(from - before * sampleRate)),
  end: Math.min(frames, Math.round(to + after * sampleRate)),
});

/** All joins, each with its rolls. */
export function joinStretches(
  { timeline, order }: Pick<ProgrammeInHand, "timeline" | "order">,
  rolls: Rolls,
): Stretch[] {
  if (!timeline) return [];
  const number = (id: string) => order.findIndex((item) => item.id === id) + 1;
  return joinsOf(timeline).map((join) => ({
    ...stretchOfJoin(join, timeline.frames, timeline.sampleRate, rolls),
    name: `join ${number(join.before.item)} → ${number(join.after.item)}`,
    item: join.after.item,
  }));
}

/** Head and tail of each item. */
export function endStretches(
  { timeline, order }: Pick<ProgrammeInHand, "timeline" | "order">,
  rolls: Rolls,
): Stretch[] {
  if (!timeline) return [];
  return timeline.order.flatMap(({ item, start, fadeEnd }, index) => {
    const name = order.find(({ id }) => id === item)?.name ?? "";
    const [head, tail] = [rolls.after, rolls.before].map((seconds) => Math.round(seconds * timeline.sampleRate));
    const both = fadeEnd - start <= head! + tail!;
    if (both) return [{ start, end: fadeEnd, name: `${index + 1} ${name}`, item }];
    return [
      { start, end: start + head!, name: `head of ${index + 1} ${name}`, item },
      { start: fadeEnd - tail!, end: fadeEnd, name: `tail of ${index + 1} ${name}`, item },
    ];
  });
}

/** Hears the join in hand once. */
export function hearJoin(programme: Pick<ProgrammeInHand, "timeline" | "order" | "join">): void {
  const { joinRolls } = useWorkspace.getState();
  const all = joinStretches(programme, joinRolls);
  const one = all.find(({ item }) => item === programme.join?.after.item);
  if (one) startAudition([one]);
}

/** Puts the programme's playhead, in seconds. */
export function goToProgramme(seconds: number, sampleRate: number): void {
  useWorkspace.setState({ programmeCursor: Math.max(0, seconds) });
  engine().seek(Math.round(Math.max(0, seconds) * sampleRate));
}
