"use client";

import { useEffect, useRef } from "react";
import { GONE_MS, isSamePlace, type PlaceInProject } from "@core/people/presence";
import { api } from "@ui/api/api";
import { PAGE, usePresence } from "@ui/api/presence";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { engine } from "@ui/state/listening-engine";
import { STAGES, useWorkspace, type StageName } from "@ui/state/workspace-store";

const LOOK_MS = 500;
/** Told again while nothing changes, so that nobody seems gone. */
const AGAIN_MS = 15_000;
/** A playhead that runs is where it was expected, within so much. */
const TOLERANCE_SECONDS = 0.4;

function placeNow(facts: ItemFacts | null, more: Partial<PlaceInProject> = {}): PlaceInProject {
  const { stage, item, cursor, selection, view } = useWorkspace.getState();
  const { playing } = engine().state;
  const range = (given: { start: number; end: number } | null) => given && { start: given.start, end: given.end };
  return {
    ...{ page: PAGE, stage, item, playing, asks: false, leaves: false },
    seconds: Math.max(0, playing && facts ? engine().position / facts.sampleRate : cursor),
    selection: range(selection),
    view: range(view),
    ...more,
  };
}

/** Where a place that was told is by now. */
const onward = (place: PlaceInProject, milliseconds: number): PlaceInProject =>
  place.playing ? { ...place, seconds: place.seconds + milliseconds / 1000 } : place;

/** Those that were not heard of for too long are gone: their browser, or their line. */
function forgetGone(): void {
  const { others } = usePresence.getState();
  const here = Object.entries(others).filter(([, { heardAt }]) => Date.now() - heardAt < GONE_MS);
  if (here.length < Object.keys(others).length) usePresence.setState({ others: Object.fromEntries(here) });
}

/** Tells the others where this page is, while there are others; and asks them when it is opened. */
export function usePresenceTold(project: string): void {
  const { facts } = useCurrentItem();
  const known = useRef(facts);
  useEffect(() => {
    known.current = facts;
  }, [facts]);
  useEffect(() => {
    const tell = (more: Partial<PlaceInProject> = {}) => {
      const place = placeNow(known.current, more);
      void api("POST /api/projects/{project}/presence", { params: { project }, body: place }).catch(() => undefined);
      return place;
    };
    tell({ asks: true });
    let told: { place: PlaceInProject; at: number; asked: number } | null = null;
    const timer = setInterval(() => {
      forgetGone();
      const { others, asked } = usePresence.getState();
      if (Object.keys(others).length === 0) return;
      const now = Date.now();
      const isKnown =
        told?.asked === asked &&
        isSamePlace(onward(told.place, now - told.at), placeNow(known.current), TOLERANCE_SECONDS);
      if (!told || !isKnown || now - told.at > AGAIN_MS) told = { place: tell(), at: now, asked };
    }, LOOK_MS);
    const leave = () => void tell({ leaves: true });
    addEventListener("pagehide", leave);
    return () => {
      clearInterval(timer);
      removeEventListener("pagehide", leave);
      leave();
      usePresence.setState({ others: {}, followed: null });
    };
  }, [project]);
}

const isStage = (name: string): name is StageName => (STAGES as readonly string[]).includes(name);

/** Goes where the followed page goes, and plays what it plays, until it is let go of. */
export function useFollowing(): void {
  const { facts } = useCurrentItem();
  const followed = usePresence((state) => (state.followed ? state.others[state.followed]?.presence : undefined));
  useEffect(() => {
    if (!followed) return;
    const { stage, item, seconds, selection, playing } = followed;
    if (!isStage(stage)) return; // of another version of the application, say
    const isOther = item !== useWorkspace.getState().item;
    const view = followed.view && followed.view.end > followed.view.start ? followed.view : null;
    useWorkspace.setState({ stage, item, view, selection, cursor: seconds });
    if (isOther || !facts) return; // heard from the next time on that it is told
    const off = Math.abs(engine().position / facts.sampleRate - seconds);
    if (off > TOLERANCE_SECONDS) engine().seek(itemFrame(facts, seconds));
    if (playing && !engine().state.playing) void engine().play();
    if (!playing && engine().state.playing) engine().pause();
  }, [followed, facts]);
}
