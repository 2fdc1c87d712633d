"use client";

import { useSyncExternalStore } from "react";
import { Recorder, type RecorderState } from "@playback/recorder";

let shared: Recorder | undefined;

/** The one recorder of the page. */
export const recorder = (): Recorder => (shared ??= new Recorder());

const CLOSED: RecorderState = { status: "closed", problem: null, seconds: 0, sentBytes: 0 };

export const useRecorder = (): RecorderState =>
  useSyncExternalStore(
    (listener) => recorder().subscribe(listener),
    () => recorder().snapshot(),
    () => CLOSED,
  );
