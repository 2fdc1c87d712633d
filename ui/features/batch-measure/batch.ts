"use client";

import { create } from "zustand";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { findingsOf } from "@core/findings";
import type { Figures } from "@core/measure";
import { drawingsOf, type ReportDrawings } from "@core/report/drawings";
import { failedEntry, type ReportEntry } from "@core/report/entry";
import { specNamed } from "@core/delivery/specs";
import { check } from "@core/delivery/compliance";
import { apiUntil } from "@ui/api/api";
import { UnreadableFormat, measureInBrowser } from "@ui/workers/measuring";

/** A recording in the table. */
export interface BatchRow extends ReportEntry {
  key: number;
  state: "waiting" | "measuring" | "done" | "failed";
  bytes: number;
}

interface Batch {
  rows: readonly BatchRow[];
  /** Delivery spec that all are held against. */
  spec: string | null;
  /** Seconds of sound that were measured, and seconds that this took. */
  measuredSeconds: number;
  startedAt: number | null;
  endedAt: number | null;
}

export const useBatch = create<Batch>(() => ({
  rows: [],
  spec: "streaming-14",
  measuredSeconds: 0,
  startedAt: null,
  endedAt: null,
}));

/** One core is left to the page. */
const lanes = () => Math.max(1, Math.min(8, (navigator.hardwareConcurrency || 2) - 1));
/** The table is drawn anew at most so often while it fills. */
const DRAWN_MS = 120;

interface Task {
  key: number;
  file: File;
}
const waiting: Task[] = [];
const changes = new Map<number, Partial<BatchRow>>();
let running = 0;
let nextKey = 0;
let stop = new AbortController();
let drawing: ReturnType<typeof setTimeout> | undefined;

const nameOf = (file: File): string => file.webkitRelativePath || file.name;

function change(key: number, next: Partial<BatchRow>): void {
  changes.set(key, { ...changes.get(key), ...next });
  drawing ??= setTimeout(draw, DRAWN_MS);
}

function draw(): void {
  drawing = undefined;
  const taken = new Map(changes);
  changes.clear();
  useBatch.setState(({ rows }) => ({
    rows: rows.map((row) => {
      const next = taken.get(row.key);
      return next ? { ...row, ...next } : row;
    }),
  }));
}

const held = (figures: Figures, spec: string | null) => ({
  verdict: spec === null ? null : check(specNamed(spec), figures),
  findings: findingsOf(figures, spec === null ? null : specNamed(spec)),
});

/** Adds files and begins to measure them. Others than sound and video are passed over. @returns how many were */
export function addFiles(files: readonly File[]): number {
  const sounds = files.filter(({ name }) => SOUND_EXTENSIONS.some((ending) => name.toLowerCase().endsWith(ending)));
  const tasks = sounds.map((file): Task => ({ key: nextKey++, file }));
  const rows = tasks.map(({ key, file }): BatchRow => ({
    ...failedEntry(nameOf(file), ""),
    problem: null,
    key,
    state: "waiting",
    bytes: file.size,
  }));
  useBatch.setState((batch) => ({
    rows: [...batch.rows, ...rows],
    startedAt: batch.endedAt === null ? (batch.startedAt ?? Date.now()) : Date.now(),
    measuredSeconds: batch.endedAt === null ? batch.measuredSeconds : 0,
    endedAt: null,
  }));
  waiting.push(...tasks);
  while (running < lanes() && waiting.length > 0) void lane();
  return files.length - sounds.length;
}

async function lane(): Promise<void> {
  running++;
  for (let task = waiting.shift(); task; task = waiting.shift()) await measure(task, stop.signal);
  running--;
  if (running > 0) return;
  draw();
  useBatch.setState({ endedAt: Date.now() });
}

async function measure({ key, file }: Task, signal: AbortSignal): Promise<void> {
  change(key, { state: "measuring" });
  try {
    const { figures, drawings, warnings } = await measureAnywhere(file, signal);
    const { spec } = useBatch.getState();
    change(key, { state: "done", figures, drawings, warnings, ...held(figures, spec) });
    useBatch.setState(({ measuredSeconds }) => ({ measuredSeconds: measuredSeconds + figures.durationSeconds }));
  } catch (error) {
    if (signal.aborted) return;
    change(key, { state: "failed", problem: error instanceof Error ? error.message : String(error) });
  }
}

/** In this page where the core reads the format, else by the server, which keeps nothing of it. */
async function measureAnywhere(
  file: File,
  signal: AbortSignal,
): Promise<Pick<ReportEntry, "warnings"> & { figures: Figures; drawings: ReportDrawings }> {
  if (file.size === 0) throw new Error("The file is empty.");
  try {
    const { figures, curves, file: about } = await measureInBrowser({ source: { file }, layout: null }, signal);
    return { figures, drawings: drawingsOf(curves), warnings: about.warnings };
  } catch (error) {
    if (!(error instanceof UnreadableFormat)) throw error;
  }
  return apiUntil("POST /api/measure", { body: file }, signal);
}

/** Holds all that was measured against another specification. */
export function holdAgainst(spec: string | null): void {
  draw();
  useBatch.setState(({ rows }) => ({
    spec,
    rows: rows.map((row) => (row.figures ? { ...row, ...held(row.figures, spec) } : row)),
  }));
}

/** Stops what is under way; what was measured stays. */
export function stopMeasuring(): void {
  stop.abort();
  stop = new AbortController();
  const left = new Set(waiting.splice(0).map(({ key }) => key));
  draw();
  useBatch.setState(({ rows }) => ({
    rows: rows.filter(({ key, state }) => !left.has(key) && state !== "measuring"),
    endedAt: Date.now(),
  }));
}

export function clearBatch(): void {
  stopMeasuring();
  useBatch.setState({ rows: [], measuredSeconds: 0, startedAt: null, endedAt: null });
}
