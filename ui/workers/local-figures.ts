"use client";

import { create } from "zustand";
import type { Measured } from "@core/measure";
import { UnreadableFormat, measureInBrowser } from "@ui/workers/measuring";

/** What this page measures of a file by itself, while the file is on its way. */
export interface LocalFigures {
  fraction: number;
  /** So far; the whole once `fraction` is 1. */
  measured: Measured | null;
  /** Why there is nothing: the server will say more. */
  problem: string | null;
}

/** A file as it is known on both sides before its hash is. */
export const fileKey = ({ name, bytes }: { name: string; bytes: number }): string => `${bytes}/${name}`;

export const useLocalFigures = create<{ figures: Record<string, LocalFigures> }>(() => ({ figures: {} }));

/** So many are measured at a time: the upload hashes and sends beside it. */
const AT_ONCE = 1;
const KEPT = 40;
const waiting: File[] = [];
let running = 0;

const put = (key: string, next: LocalFigures) =>
  useLocalFigures.setState(({ figures }) => {
    const entries = Object.entries(figures).filter(([other]) => other !== key);
    return { figures: Object.fromEntries([...entries.slice(-KEPT), [key, next]]) };
  });

/** Measures files here, in the order in which they came. */
export function measureLocally(files: readonly File[]): void {
  waiting.push(...files);
  while (running < AT_ONCE && waiting.length > 0) void measureNext(waiting.shift()!);
}

async function measureNext(file: File): Promise<void> {
  const key = fileKey({ name: file.name, bytes: file.size });
  running++;
  let measured: Measured | null = null;
  put(key, { fraction: 0, measured, problem: null });
  try {
    const { figures, curves } = await measureInBrowser(
      { source: { file }, layout: null },
      new AbortController().signal,
      (fraction, soFar) => {
        measured = soFar ?? measured;
        put(key, { fraction, measured, problem: null });
      },
    );
    put(key, { fraction: 1, measured: { figures, curves }, problem: null });
  } catch (error) {
    const problem = error instanceof UnreadableFormat ? "measured once it has arrived" : (error as Error).message;
    put(key, { fraction: 1, measured: null, problem });
  } finally {
    running--;
    measureLocally([]);
  }
}
