"use client";

import type { ReactNode, Ref } from "react";
import { Group, Panel, Separator, type PanelImperativeHandle } from "react-resizable-panels";

/** A hairline that is dragged: the room to take hold of it reaches over its sides. */
export const SPLIT_LINE =
  "relative z-10 bg-hair outline-none after:absolute hover:after:bg-act/20 focus-visible:after:bg-act/40 data-[separator=active]:after:bg-act/40";

interface StackedPanelsProps {
  /** `null` leaves all to the lower one. */
  upper: ReactNode;
  lower: ReactNode;
  /** Of the upper one at first, per cent. */
  share: number;
  onShare: (share: number) => void;
  upperRef: Ref<PanelImperativeHandle | null>;
  lowerRef: Ref<PanelImperativeHandle | null>;
  /** What the line between them is called. */
  label: string;
}

/** Two panels, one above the other, with a line between that is dragged or moved by arrow keys; each can be folded. */
export function StackedPanels({ upper, lower, share, onShare, upperRef, lowerRef, label }: StackedPanelsProps) {
  return (
    <Group
      orientation="vertical"
      className="min-h-0 flex-1"
      onLayoutChanged={(layout, { isUserInteraction }) => {
        if (isUserInteraction && layout["upper"] !== undefined) onShare(layout["upper"]);
      }}
    >
      {upper && (
        <>
          <Panel
            id="upper"
            panelRef={upperRef}
            collapsible
            minSize="20%"
            defaultSize={`${share}%`}
            className="!overflow-hidden"
          >
            {upper}
          </Panel>
          <Separator
            aria-label={label}
            title="Drag, or arrow keys"
            className={`${SPLIT_LINE} h-px after:inset-x-0 after:-top-1 after:h-2`}
          />
        </>
      )}
      <Panel id="lower" panelRef={lowerRef} collapsible minSize="14%" className="!overflow-hidden">
        {lower}
      </Panel>
    </Group>
  );
}
