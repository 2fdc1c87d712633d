import type { Command } from "@core/project/commands";
import type { Item } from "@core/project/document";
import type { DeliverySpec } from "@core/delivery/spec";
import { windowNow } from "@ui/state/time-window";
import { useWorkspace, type TimeRange } from "../../state/workspace-store";
import type { ItemFacts } from "../../state/current-item";
import { itemFrame } from "../../state/item-time";
import { engine } from "../../state/listening-engine";
import type { HeadMove } from "@ui/api/outbox";

export const COMMAND_GROUPS = [
  "Listening",
  "Programme",
  "Selection",
  "Editing",
  "View",
  "Markers",
  "Project",
  "Delivering",
  "Stages",
  "Items",
] as const;

/** Something that a person can do by key, or find by its words. */
export interface WorkspaceCommand {
  /** Stays the same: own keys are kept by it. */
  id: string;
  group: (typeof COMMAND_GROUPS)[number];
  label: string;
  /** Other words that it is found by. */
  words?: string;
  /** "mod" is Ctrl, or the command key. */
  keys?: string;
  run: () => void;
}

/** What commands act on. */
export interface CommandContext {
  facts: ItemFacts | null;
  items: readonly Item[];
  spec: DeliverySpec | null;
  /** An item as it is now: keys may come faster than what they did is drawn. */
  latest: (item: string) => Item | null;
  edit: (command: Command) => Promise<void>;
  moveHead: (move: HeadMove) => Promise<void>;
}

export const workspaceState = useWorkspace.getState;

/** Does something with the item in hand, if there is one. */
export const withFacts =
  ({ facts }: CommandContext, run: (facts: ItemFacts) => void) =>
  (): void => {
    if (facts) run(facts);
  };

export const windowOf = ({ duration }: ItemFacts): TimeRange => windowNow(duration);

/** Where the playhead is, seconds of the item. */
export const playheadSeconds = ({ sampleRate }: ItemFacts): number =>
  engine().state.playing ? engine().position / sampleRate : workspaceState().cursor;

export function movePlayhead(facts: ItemFacts, seconds: number): void {
  const cursor = Math.max(0, Math.min(facts.duration, seconds));
  useWorkspace.setState({ cursor });
  engine().seek(itemFrame(facts, cursor));
}
