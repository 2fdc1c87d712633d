"use client";

/** Keeps the engine on the programme while it is in hand, and gives what can be heard of it. */
import { useEffect, useMemo } from "react";
import type { PlaybackPlan } from "@playback/playback-reader";
import type { ProgrammePlan } from "@playback/programme-playback";
import { DEFAULT_SETTINGS, OWN_SOURCE } from "@playback/player";
import { joinsOf, type Join } from "@core/programme/timeline";
import { programmeTimeline } from "@core/project/subjects";
import { knownRecordings } from "@core/project/views";
import { useCurrentItem } from "./current-item";
import { startAudition, useAudition, type Stretch } from "./audition";
import { engine } from "./listening-engine";
import { useWholeProgramme, type ProgrammeInHand } from "./programme";
import { programmePlanOf, referencePlanOf, type ProgrammeHeard } from "./programme-plan";
import { useWorkspace, type WorkspaceState } from "./workspace-store";

/** Gain that brings what is heard to the loudness of the recordings as they came, by a mean of all items. */
function useMatchingGain(): number {
  const { levels, order, known } = useWholeProgramme();
  return useMemo(() => {
    const changes = order.flatMap((item) => {
      const now = levels?.items.get(item.id)?.integratedLufs ?? null;
      const came = known(item)?.figures.integratedLufs ?? null;
      return now !== null && came !== null ? [came - now] : [];
    });
    return changes.length > 0 ? changes.reduce((sum, change) => sum + change, 0) / changes.length : 0;
  }, [levels, order, known]);
}

/** What of the programme is wanted to be heard; a reference only while there is one. */
function useHeardOfProgramme(): ProgrammeHeard {
  const { view } = useCurrentItem();
  const source = useWorkspace(({ monitorSource }) => monitorSource);
  if (source === "reference" && view.document.programme.references.length > 0) return "reference";
  return source === "original" ? "original" : "now";
}

interface HeardPlan {
  /** `null` while a recording is not there. */
  programme: ProgrammePlan | null;
  /** What that is: the programme as it is now where no reference can be heard. */
  heard: ProgrammeHeard;
}

/** What is played at the places of the programme. */
function useHeardPlan(wanted: ProgrammeHeard, matchedDb: number): HeardPlan {
  const { view } = useCurrentItem();
  const { items, timeline, levels } = useWholeProgramme();
  const { levelMatched, heardMix, heardReference, pendingParameter: pending } = useWorkspace();
  const { document, sources } = view;
  const own = useMemo(() => {
    if (!timeline) return null;
    const mix = heardMix ?? undefined;
    // A mix of another length ends its items elsewhere.
    const its =
      mix === undefined
        ? timeline
        : programmeTimeline({ items: [...items], programme: document.programme }, knownRecordings(sources), mix);
    const listened = its && { document, items, timeline: its, sources, pending };
    const as = wanted === "original" ? "original" : "now";
    return listened && programmePlanOf(listened, as, { mix, isMatched: levelMatched });
  }, [document, items, timeline, sources, wanted, heardMix, levelMatched, pending]);
  const references = useMemo(() => {
    if (!timeline || wanted !== "reference") return null;
    return referencePlanOf({ document, timeline, sources }, heardReference, (item) => {
      const now = item === null ? levels?.integratedLufs : levels?.items.get(item)?.integratedLufs;
      return levelMatched && now !== null && now !== undefined ? now + matchedDb : null;
    });
  }, [document, timeline, sources, levels, wanted, heardReference, levelMatched, matchedDb]);
  if (references) return { programme: references, heard: "reference" };
  return { programme: own, heard: wanted === "original" ? "original" : "now" };
}

/** Plays the programme instead of the item in hand. */
export function useProgrammeListening(): { matchedDb: number; heard: ProgrammeHeard } {
  const { view } = useCurrentItem();
  const { timeline, join } = useWholeProgramme();
  const { levelMatched, monitor, loopingJoin, joinRolls } = useWorkspace();
  const matchedDb = useMatchingGain();
  const { programme, heard } = useHeardPlan(useHeardOfProgramme(), matchedDb);
  const { document } = view;
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
    // oxlint-disable-next-line react-hooks/exhaustive-deps
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
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [loop !== null]);
  return { matchedDb: plan.main.gainDb, heard };
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
