"use client";

import { MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { ITEM_COLOURS, type Item } from "@core/project/document";
import { placementOf, type PlacementChanges } from "@core/programme/placement";
import { ColourSwatch } from "@ui/design-system/colour-swatch";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { goToStage, openItem, useWorkspace } from "@ui/state/workspace-store";

const ENTRY = "rounded-[3px] px-2 py-1 outline-none data-highlighted:bg-act-ground data-highlighted:text-act";

/** What else can be done with an item of the programme. */
export function ItemMenu({ item }: { item: Item }) {
  const { view, edit } = useCurrentItem();
  const { order, placed, timeline } = useWholeProgramme();
  const { lanes } = view.document.programme;
  const { gapFrom, hidden, lane } = placementOf(item);
  const isFirst = order[0]?.id === item.id;
  const place = (changes: PlacementChanges, what: string) =>
    void edit({ type: "placeItems", items: [{ item: item.id, changes }], what });
  const toLane = (id: string, name: string) => {
    const at = placed(item.id);
    place(
      { lane: id, anchor: null, atSeconds: at && timeline ? at.start / timeline.sampleRate : 0 },
      `onto the lane “${name}”`,
    );
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`More for ${item.name}`}
        className="rounded-[4px] p-1 text-act hover:bg-act-ground"
      >
        <MoreHorizontal size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 w-72 rounded-[4px] border border-hair bg-sheet p-1">
          <DropdownMenu.Item
            className={ENTRY}
            onSelect={() => {
              openItem(item.id);
              goToStage("inspect");
            }}
          >
            Open in Inspect
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={ENTRY}
            onSelect={() => {
              openItem(item.id);
              goToStage("shape");
            }}
          >
            Open its chain in Shape
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={ENTRY}
            onSelect={() => useWorkspace.setState({ gainLineOf: { kind: "item", id: item.id } })}
          >
            Draw its gain over time
          </DropdownMenu.Item>
          {lane === null && !isFirst && (
            <DropdownMenu.Item
              className={ENTRY}
              onSelect={() => {
                const next = gapFrom === "fade end" ? "last sample" : "fade end";
                place({ gapFrom: next }, `pause from the ${next}`);
              }}
            >
              Count its pause from the {gapFrom === "fade end" ? "last sample" : "end of the fade"} before
            </DropdownMenu.Item>
          )}
          {isFirst && order.length > 1 && (
            <DropdownMenu.Item
              className={ENTRY}
              onSelect={() =>
                place({ hidden: !hidden }, hidden ? "a title of its own" : "hidden before the first title")
              }
            >
              {hidden ? "Give it a number of its own" : "Hide it before the first title"}
            </DropdownMenu.Item>
          )}
          {lane === null
            ? lanes.map(({ id, name }) => (
                <DropdownMenu.Item key={id} className={ENTRY} onSelect={() => toLane(id, name)}>
                  Put it on the lane “{name}”
                </DropdownMenu.Item>
              ))
            : null}
          {lane !== null && (
            <DropdownMenu.Item className={ENTRY} onSelect={() => place({ lane: null }, "into the order")}>
              Put it into the order
            </DropdownMenu.Item>
          )}
          <div role="group" aria-label="Colour of the item" className="flex items-center gap-0.5 px-2 py-1">
            <span className="mr-1">Colour</span>
            {[null, ...ITEM_COLOURS].map((colour) => (
              <DropdownMenu.Item
                key={colour ?? "none"}
                asChild
                onSelect={() => void edit({ type: "colourItems", items: [item.id], colour })}
              >
                <ColourSwatch colour={colour} className="outline-none data-highlighted:bg-act-ground" />
              </DropdownMenu.Item>
            ))}
          </div>
          <DropdownMenu.Separator className="my-1 border-t border-hair" />
          <DropdownMenu.Item className={ENTRY} onSelect={() => void edit({ type: "removeItem", item: item.id })}>
            Take it out of the project
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
