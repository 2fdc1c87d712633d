"use client";

import { useEffect, useRef, useState } from "react";
import type { ReviewFile } from "@core/review/views";
import { addressOf, api } from "@ui/api/api";
import { browserOutput, ReviewPlayer } from "./review-player";

const TELL_MS = 10_000;

export interface HeardPlayer {
  time: number;
  playing: boolean;
  problem: string | null;
  toggle: () => void;
  seek: (seconds: number) => void;
}

const AT_REST = { time: 0, playing: false, problem: null };

/** Browsers play what they say they do; what they may not is heard as a copy. */
const playsItself = ({ media_type: type }: ReviewFile): boolean => new Audio().canPlayType(type) !== "";

/** Plays a file of a review, and tells what of it was heard. @param lossless whether the file itself is wanted */
export function useReviewPlayer(review: string, file: ReviewFile, gainDb: number, lossless: boolean): HeardPlayer {
  const [shown, show] = useState<Pick<HeardPlayer, "time" | "playing" | "problem">>(AT_REST);
  const player = useRef<ReviewPlayer | null>(null);
  const chosen = useRef<ReviewFile | null>(null);
  const { position, item_id: item, seconds } = file;
  const isCopy = file.has_copy && !(lossless && typeof Audio !== "undefined" && playsItself(file));
  const url = addressOf("GET /api/review/{review}/files/{position}/sound", {
    params: { review, position },
    query: isCopy ? { copy: "1" } : {},
  });
  useEffect(() => {
    player.current ??= new ReviewPlayer(browserOutput(), (problem) => {
      const { time = 0, playing = false } = player.current ?? {};
      show({ time, playing, problem });
    });
    const isSameTitle = chosen.current?.item_id === item;
    chosen.current = file;
    player.current.choose({ position, url, gainDb, seconds }, isSameTitle);
  }, [file, item, position, url, gainDb, seconds]);
  const { playing } = shown;
  useEffect(() => {
    let isNew = true;
    const tell = () => {
      const ranges = player.current?.takeHeard() ?? [];
      if (ranges.length === 0) return;
      void api("POST /api/review/{review}/heard", { params: { review }, body: { position, ranges, isNew } }).catch(
        () => undefined,
      );
      isNew = false;
    };
    if (!playing) return; // told when it began to rest
    const timer = setInterval(tell, TELL_MS);
    addEventListener("pagehide", tell);
    return () => {
      clearInterval(timer);
      removeEventListener("pagehide", tell);
      tell();
    };
  }, [review, position, playing]);
  useEffect(() => () => player.current?.close(), []);
  return { ...shown, toggle: () => player.current?.toggle(), seek: (to) => player.current?.seek(to) };
}
