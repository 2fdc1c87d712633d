import type { Failure } from "@core/render/chain-stage";
import type { Layout } from "@core/audio/layout";
import type { PlayerSettings } from "./player";
import type { ProgrammePlan } from "./programme-playback";

/** What the page tells the listening worker. Frames are the item's. */
export type ToWorker =
  | {
      type: "open";
      /** Where a recording is, or the programme that is put together. */
      sound: string | ProgrammePlan;
      layout: Layout;
      settings: PlayerSettings;
      memory: SharedArrayBuffer;
      position: number;
    }
  | { type: "set"; settings: Partial<PlayerSettings>; sent: number }
  /** The programme has changed; frames are its own. */
  | { type: "programme"; programme: ProgrammePlan; sent: number }
  | { type: "seek"; frame: number; stopAt: number | null }
  | { type: "scrub"; frame: number }
  | { type: "play" }
  | { type: "pause" }
  /** More of the repairs has been made. */
  | { type: "repaired" }
  | { type: "reset-meters" }
  | { type: "close" };

/** What it answers. */
export type FromWorker =
  | { type: "opened" }
  | { type: "playing"; playing: boolean }
  | { type: "changed"; milliseconds: number }
  /** Processors that had to be muted. */
  | { type: "muted"; failures: Failure[] }
  /** The item plays on; `fatal` where it does not. */
  | { type: "failed"; message: string; fatal: boolean };
