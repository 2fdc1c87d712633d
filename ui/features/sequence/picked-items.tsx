"use client";

import { Trash2 } from "lucide-react";
import { toast } from "sonner";
import { ITEM_COLOURS, itemOf } from "@core/project/document";
import { placementOf } from "@core/programme/placement";
import { Button } from "@ui/design-system/button";
import { PickedBar } from "@ui/design-system/picked-bar";
import { useCurrentItem } from "@ui/state/current-item";
import { pickNothing, usePickedOf } from "@ui/state/picked";
import { newId } from "@ui/api/use-project";
import { ColourSwatch } from "@ui/design-system/colour-swatch";

/** By how much the gain of all moves with a click. */
const GAIN_STEP_DB = 0.5;

/** What is done with several items of the order at once. */
export function PickedItems({ order }: { order: readonly string[] }) {
  const { view, edit, item: inHand } = useCurrentItem();
  const picked = usePickedOf("items", order);
  if (picked.length === 0) return null;
  const clear = () => pickNothing("items");
  const moveGain = (by: number) => {
    const items = picked.map((id) => {
      const gainDb = placementOf(itemOf(view.document, id)!).gainDb + by;
      return { item: id, changes: { gainDb: Math.max(-60, Math.min(24, Number(gainDb.toFixed(2)))) } };
    });
    void edit({ type: "placeItems", items, what: `gain ${by > 0 ? "+" : "−"}${Math.abs(by)} dB` });
  };
  const others = picked.filter((id) => id !== inHand?.id);
  const giveChain = () => {
    void edit({ type: "setChain", items: others, chain: inHand!.chain, prefix: newId() });
    toast(`The chain of “${inHand!.name}” stands on the others that are selected; undo takes it back.`);
  };
  return (
    <PickedBar count={picked.length} noun="item" onClear={clear}>
      <Button kind="quiet" hint="Gain of each item, half a decibel less" onClick={() => moveGain(-GAIN_STEP_DB)}>
        −{GAIN_STEP_DB} dB
      </Button>
      <Button kind="quiet" hint="Gain of each item, half a decibel more" onClick={() => moveGain(GAIN_STEP_DB)}>
        +{GAIN_STEP_DB} dB
      </Button>
      <Button
        kind="quiet"
        disabled={!inHand || others.length === picked.length}
        hint="The chain of the item in hand, on all others that are selected, in place of theirs"
        onClick={giveChain}
      >
        Chain of the one in hand
      </Button>
      <span className="flex items-center gap-0.5" role="group" aria-label="Colour of the items">
        {[null, ...ITEM_COLOURS].map((colour) => (
          <ColourSwatch
            key={colour ?? "none"}
            colour={colour}
            onClick={() => void edit({ type: "colourItems", items: [...picked], colour })}
          />
        ))}
      </span>
      <Button
        kind="quiet"
        hint="Out of the project; the recordings stay in it, and undo brings them back"
        onClick={() => {
          void edit({ type: "removeItems", items: [...picked] });
          clear();
        }}
      >
        <Trash2 size={13} /> Take out
      </Button>
    </PickedBar>
  );
}
