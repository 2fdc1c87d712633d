import { around } from "@ui/state/time-window";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { engine } from "@ui/state/listening-engine";

/** Shows a place of the item: selected, in the middle of the window, with the playhead on it. */
export function showRange(facts: ItemFacts, seconds: number, length = 0): void {
  const at = Math.max(0, Math.min(facts.duration, seconds));
  const span = Math.max(length, 0.1);
  useWorkspace.setState({
    cursor: at,
    selection: length > 0 ? { start: at, end: Math.min(facts.duration, at + length) } : null,
    view: around({ start: Math.max(0, at - 4 * span), end: Math.min(facts.duration, at + 5 * span) }, facts.duration),
  });
  engine().seek(itemFrame(facts, at));
}
