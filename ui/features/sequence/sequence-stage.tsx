"use client";

import { FileStack } from "lucide-react";
import { useState } from "react";
import { formatTime } from "@core/audio/format";
import { joinsOf } from "@core/programme/timeline";
import { StackedPanels } from "@ui/design-system/stacked-panels";
import { keepSizes, panelHandles, sizesOf } from "@ui/state/panel-sizes";
import { Button } from "@ui/design-system/button";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { useWorkspace } from "@ui/state/workspace-store";
import { ConsistencyDialog } from "./consistency-dialog";
import { JoinView } from "./join-view";
import { LaneChain } from "./lane-chain";
import { LanesPanel } from "./lanes-panel";
import { MadeItem } from "./made-item";
import { OrderProposalsDialog } from "./order-proposals-dialog";
import { OrderTable } from "./order-table";
import { ProgrammeMap } from "./programme-map";
import { ProgrammeMarkers } from "./programme-markers";
import { ProgrammeSettings } from "./programme-settings";
import { ReferencesPanel } from "./references-panel";
import { ReplaceDialog } from "./replace-dialog";

const DIALOGS = { replace: ReplaceDialog, proposals: OrderProposalsDialog, consistency: ConsistencyDialog };

/** The programme: all items on one axis, the join in hand, and every number in a table. */
export function SequenceStage() {
  const { view } = useCurrentItem();
  const { order, timeline, unread, duration } = useWholeProgramme();
  const laneInHand = useWorkspace((workspace) => workspace.laneInHand);
  const [scroller, setScroller] = useState<HTMLDivElement | null>(null);
  const [dialog, setDialog] = useState<keyof typeof DIALOGS | null>(null);
  if (view.document.items.length === 0)
    return <p className="p-4 text-soft">The order is empty. Recordings that come in are put at its end.</p>;
  const { cdRule, headSeconds, tailSeconds, lanes, references } = view.document.programme;
  const lane = lanes.find(({ id }) => id === laneInHand);
  const Dialog = dialog && DIALOGS[dialog];
  return (
    <div className="flex h-full min-h-0 flex-col">
      <header className="flex shrink-0 items-center gap-1 border-b border-hair px-2 py-0.5">
        <ProgrammeSettings />
        <Button
          kind="quiet"
          onClick={() => setDialog("replace")}
          hint="Later mixes in the place of recordings, or beside them"
        >
          <FileStack size={14} /> Replace recordings …
        </Button>
        <MadeItem />
        <Button
          kind="quiet"
          disabled={order.length < 2}
          onClick={() => setDialog("proposals")}
          hint="Levels, pauses and ends that would make the order more even"
        >
          Proposals …
        </Button>
        <Button
          kind="quiet"
          disabled={order.length < 2}
          onClick={() => setDialog("consistency")}
          hint="What lies apart from the other items: level, noise floor, tone, head and tail"
        >
          Check items …
        </Button>
        <span className="ml-auto truncate pr-2 text-label text-soft">
          {order.length} {order.length === 1 ? "item" : "items"}
          {timeline && joinsOf(timeline).some(({ before, after }) => after.start < before.fadeEnd)
            ? ", some overlap"
            : ""}
          {headSeconds > 0 ? ` · head ${headSeconds} s` : ""}
          {tailSeconds > 0 ? ` · tail ${tailSeconds} s` : ""}
          {cdRule ? " · CD sectors" : ""} · ends at {formatTime(duration, 1)}
        </span>
      </header>
      {unread.length > 0 && (
        <p role="status" className="shrink-0 border-b border-hair bg-band px-3 py-1 text-label">
          {unread.length === 1 ? `“${unread[0]}” is` : `${unread.length} items are`} still being read; the programme is
          put together once all are there.
        </p>
      )}
      <StackedPanels
        upper={
          <div className="flex h-full min-h-0 flex-col">
            <div
              className="min-h-0 flex-[0_1_auto] border-b border-hair"
              style={{ height: 168 + 20 * Math.min(4, lanes.length + (references.length > 0 ? 1 : 0)) }}
            >
              <ProgrammeMap />
            </div>
            <div className="min-h-0 flex-1 overflow-y-auto">
              <div className={`h-full ${lane ? "min-h-[300px]" : "min-h-[120px]"}`}>
                {lane ? <LaneChain lane={lane} /> : <JoinView />}
              </div>
            </div>
          </div>
        }
        lower={
          <div ref={setScroller} className="h-full min-h-0 overflow-y-auto">
            <div className="px-3">
              <OrderTable scroller={scroller} />
              <p className="pt-1 text-label text-soft">
                Numbers are typed, or nudged with arrow keys. Alt with the arrows up and down moves an item. Ctrl or
                Shift with a click picks several: what is typed in one then holds for all. J and Shift J go from join to
                join, K hears one.
              </p>
            </div>
            <LanesPanel />
            <ReferencesPanel />
            <ProgrammeMarkers />
          </div>
        }
        share={sizesOf("sequence").upper}
        onShare={(upper) => keepSizes("sequence", { upper })}
        upperRef={panelHandles.upper}
        lowerRef={panelHandles.lower}
        label="Height of the map and the join"
      />
      {Dialog && <Dialog onClose={() => setDialog(null)} />}
    </div>
  );
}
