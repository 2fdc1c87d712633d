"use client";

import { useLayoutEffect, type ReactNode } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { SPLIT_LINE, StackedPanels } from "@ui/design-system/stacked-panels";
import { useWorkspace } from "@ui/state/workspace-store";
import { FOLDED_METERS, keepSizes, panelHandles, restoreSizes, sizesOf } from "@ui/state/panel-sizes";

interface DeskPanelsProps {
  /** Above the panels, where there is something to be told. */
  notice: ReactNode;
  /** The programme view; `null` in stages that divide their own room. */
  timeline: ReactNode;
  panel: ReactNode;
  meters: ReactNode;
}

/** Programme view over the stage's panel, and the meters beside: each is resized, folded, and remembered by stage. */
export function DeskPanels({ notice, timeline, panel, meters }: DeskPanelsProps) {
  const stage = useWorkspace((workspace) => workspace.stage);
  useLayoutEffect(() => restoreSizes(stage), [stage]);
  const sizes = sizesOf(stage);
  const stagePanel = (
    <section className="h-full min-h-0 overflow-hidden" data-testid="stage-panel">
      {panel}
    </section>
  );
  return (
    <Group
      orientation="horizontal"
      className="col-span-2 min-h-0"
      onLayoutChanged={(_, { isUserInteraction }) => {
        const size = panelHandles.meters.current?.getSize();
        if (isUserInteraction && size) keepSizes(stage, { meters: size.inPixels });
      }}
    >
      <Panel id="desk" minSize={560} className="!overflow-hidden">
        <main className="flex h-full min-h-0 flex-col bg-sheet" aria-label={`Stage: ${stage}`}>
          {notice}
          {timeline ? (
            <StackedPanels
              upper={timeline}
              lower={stagePanel}
              share={sizes.upper}
              onShare={(upper) => keepSizes(stage, { upper })}
              upperRef={panelHandles.upper}
              lowerRef={panelHandles.lower}
              label="Height of the programme view"
            />
          ) : (
            <div className="min-h-0 flex-1">{stagePanel}</div>
          )}
        </main>
      </Panel>
      <Separator
        aria-label="Width of the meters"
        title="Drag, or arrow keys"
        className={`${SPLIT_LINE} w-px after:inset-y-0 after:-left-1 after:w-2`}
      />
      <Panel
        id="meters"
        panelRef={panelHandles.meters}
        collapsible
        collapsedSize={FOLDED_METERS}
        minSize={200}
        maxSize={480}
        defaultSize={sizes.meters}
        groupResizeBehavior="preserve-pixel-size"
        className="!overflow-hidden"
      >
        {meters}
      </Panel>
    </Group>
  );
}
