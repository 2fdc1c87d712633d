"use client";

/**
 * What the workspace shows, in the page's address: the item, the stage, the window on it, the selections and the playhead.
 * A page that is loaded again, or whose address is passed on, shows the same.
 */
import { useEffect, useState } from "react";
import type { SelectionRegion } from "@ui/state/selection-region";
import { STAGES, useWorkspace, type WorkspaceState, type StageName, type TimeRange } from "./workspace-store";

type Shown = Pick<WorkspaceState, "item" | "stage" | "view" | "selection" | "otherSelections" | "cursor">;

const NUMBER = String.raw`-?\d+(?:\.\d+)?`;
const RANGE = new RegExp(`^(${NUMBER})~(${NUMBER})$`);
/** Thousandths: of a second, or of a hertz. */
const short = (value: number): string => String(Math.round(value * 1000) / 1000);

const rangeText = (from: number, to: number): string => `${short(from)}~${short(to)}`;

function rangeOf(text: string | null): TimeRange | null {
  const match = RANGE.exec(text ?? "");
  if (!match) return null;
  const [start, end] = [Number(match[1]), Number(match[2])];
  return end > start ? { start, end } : null;
}

/** "start~end", then what else it has: "b" its band, "c" its channel, "s" the corners of its shape. */
function regionText({ start, end, band, channel, outline }: SelectionRegion): string {
  return [
    rangeText(start, end),
    ...(band ? [`b${rangeText(band.low, band.high)}`] : []),
    ...(channel === undefined ? [] : [`c${channel}`]),
    ...(outline ? [`s${outline.map(({ seconds, hertz }) => `${short(seconds)}:${short(hertz)}`).join("!")}`] : []),
  ].join("_");
}

function regionOf(text: string): SelectionRegion | null {
  const [range, ...parts] = text.split("_");
  const stretch = rangeOf(range!);
  if (!stretch) return null;
  const region: SelectionRegion = { ...stretch };
  for (const part of parts) {
    const rest = part.slice(1);
    if (part[0] === "b") {
      const band = rangeOf(rest);
      if (band) region.band = { low: band.start, high: band.end };
    } else if (part[0] === "c" && /^\d+$/.test(rest)) region.channel = Number(rest);
    else if (part[0] === "s") {
      const corners = rest.split("!").map((corner) => corner.split(":").map(Number));
      if (corners.every((corner) => corner.length === 2 && corner.every(Number.isFinite)))
        region.outline = corners.map(([seconds, hertz]) => ({ seconds: seconds!, hertz: hertz! }));
    }
  }
  return region;
}

/** @param kept what else stands in the address */
export function addressOf({ item, stage, view, selection, otherSelections, cursor }: Shown, kept = ""): string {
  const query = new URLSearchParams(kept);
  for (const name of ["item", "stage", "view", "selection", "at"]) query.delete(name);
  if (item) query.set("item", item);
  query.set("stage", stage);
  if (view) query.set("view", rangeText(view.start, view.end));
  for (const region of [...(selection ? [selection] : []), ...otherSelections])
    query.append("selection", regionText(region));
  if (cursor > 0) query.set("at", short(cursor));
  return `?${query}`;
}

/** What an address shows; nothing of what it holds that cannot be understood. */
export function shownBy(search: string): Partial<Shown> {
  const query = new URLSearchParams(search);
  const item = query.get("item");
  if (!item) return {};
  const stage = STAGES.find((name) => name === query.get("stage"));
  const [selection = null, ...otherSelections] = query.getAll("selection").flatMap((text) => regionOf(text) ?? []);
  const cursor = Number(query.get("at") ?? 0);
  return {
    item,
    ...(stage ? { stage: stage satisfies StageName } : {}),
    view: rangeOf(query.get("view")),
    selection,
    otherSelections,
    cursor: cursor >= 0 && Number.isFinite(cursor) ? cursor : 0,
  };
}

const SETTLED_MS = 250;

/** Shows what the address says, and has it say what is shown from then on. */
export function useAddress(items: readonly { id: string }[]): void {
  useState(() => {
    const shown = shownBy(location.search);
    if (items.some(({ id }) => id === shown.item)) useWorkspace.setState(shown);
  });
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const write = () => {
      const address = addressOf(useWorkspace.getState(), location.search);
      if (address !== location.search) history.replaceState(history.state, "", address);
    };
    const stop = useWorkspace.subscribe(() => {
      clearTimeout(timer);
      timer = setTimeout(write, SETTLED_MS);
    });
    addEventListener("pagehide", write);
    return () => {
      clearTimeout(timer);
      removeEventListener("pagehide", write);
      stop();
    };
  }, []);
}
