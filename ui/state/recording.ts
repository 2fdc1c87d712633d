"use client";

import { useSyncExternalStore } from "react";
import type { InputMeter } from "@playback/input-meter";
import { Recorder, type RecorderState } from "@playback/recorder";

let shared: Recorder | undefined;

/** The one recorder of the page. */
export const recorder = (): Recorder => (shared ??= new Recorder());

const CLOSED: RecorderState = { status: "closed", problem: null, seconds: 0, sentBytes: 0, monitorDb: null };

export const useRecorder = (): RecorderState =>
  useSyncExternalStore(
    (listener) => recorder().subscribe(listener),
    () => recorder().snapshot(),
    () => CLOSED,
  );

/** The meters of the input while one is armed; what else changes of the recorder makes nobody look again. */
export const useInputMeter = (): InputMeter | null =>
  useSyncExternalStore(
    (listener) => recorder().subscribe(listener),
    () => recorder().meter,
    () => null,
  );
