"use client";

import { Tabs } from "radix-ui";
import { isActive } from "@core/repair";
import { formatDb } from "@core/audio/format";
import { ProgressBar } from "@ui/design-system/progress-bar";
import { ViewTabs } from "@ui/design-system/view-tabs";
import { useWorkspace, type RepairView } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useRepairProgress } from "@ui/state/repair-progress";
import { Panel } from "../../design-system/panel";
import { ConvertView } from "./convert-view";
import { CutsView } from "./cuts-view";
import { EventsView } from "./events-view";
import { LevelPlaces } from "./level-places";
import { ProposalsView } from "./proposals-view";
import { AddRepair, StepList } from "./step-list";
import { StepEditor } from "./step-editor";

/** What is mended before anything is shaped: the steps in their order, one of them in hand, and what could be done. */
export function RepairStage() {
  const { facts, item } = useCurrentItem();
  const step = useWorkspace((workspace) => workspace.step);
  if (!facts || !item)
    return <p className="p-4 text-soft">Once a recording is read, it is repaired here, step by step.</p>;
  const chosen = item.repairs.find(({ id }) => id === step);
  return (
    <div className="grid h-full grid-cols-[272px_minmax(0,1fr)] divide-x divide-hair">
      <Panel title="Steps" aside={<AddRepair />}>
        <StepList />
        <Making />
      </Panel>
      {chosen ? <StepEditor key={chosen.id} step={chosen} facts={facts} /> : <RepairViews facts={facts} />}
    </div>
  );
}

const VIEW_NAMES: Record<RepairView, string> = {
  proposals: "Proposals",
  lists: "Lists",
  time: "Cuts and crossfades",
  convert: "Channels, rate, tempo",
};

/** What could be done, and what the item is made of. */
function RepairViews({ facts }: { facts: ItemFacts }) {
  const view = useWorkspace((workspace) => workspace.repair);
  return (
    <Tabs.Root
      value={view}
      onValueChange={(next) => useWorkspace.setState({ repair: next as RepairView })}
      className="flex min-h-0 flex-col"
    >
      <ViewTabs label="What is repaired" names={VIEW_NAMES} />
      <Tabs.Content value={view} className="min-h-0 flex-1 outline-none">
        {view === "proposals" && (
          <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_262px] divide-x divide-hair">
            <ProposalsView facts={facts} />
            <LevelPlaces facts={facts} />
          </div>
        )}
        {view === "lists" && <EventsView facts={facts} />}
        {view === "convert" && <ConvertView facts={facts} />}
        {view === "time" && <CutsView facts={facts} />}
      </Tabs.Content>
    </Tabs.Root>
  );
}

/** What the repairs did, measured: how much of the wanted sound went along, and what became of the floor. */
function Cost() {
  const { facts } = useCurrentItem();
  if (!facts) return null;
  const { figures, originalLufs, estimated, source } = facts;
  if (estimated) return <p>Measuring what they did …</p>;
  const { integratedLufs, noiseFloorDbfs } = figures;
  const lost = originalLufs !== null && integratedLufs !== null ? originalLufs - integratedLufs : null;
  const floorBefore = source.figures?.noiseFloorDbfs ?? null;
  return (
    <p data-testid="cost">
      {lost !== null && (
        <>
          {Math.abs(lost) < 0.05
            ? "Next to nothing of the whole goes along."
            : `${formatDb(Math.abs(lost))} dB of the whole ${lost > 0 ? "goes along" : "is added"}.`}{" "}
        </>
      )}
      The floor lies at {formatDb(noiseFloorDbfs)} dBFS
      {floorBefore !== null && `, before at ${formatDb(floorBefore)}`}.
    </p>
  );
}

/** How far the background is with what is to be heard. */
function Making() {
  const { item } = useCurrentItem();
  const { made, of, near, problem } = useRepairProgress();
  if (problem)
    return (
      <p role="alert" className="py-2 text-outside">
        A repair could not be made: {problem} The recording is heard as it came there; switch the step off, or change
        it, to try again.
      </p>
    );
  if (of === 0 || made === of)
    return item?.repairs.some(isActive) ? (
      <div className="py-2 text-label text-soft">
        <p>All repairs are made: what is heard is what is rendered.</p>
        <Cost />
      </div>
    ) : null;
  return (
    <div className="py-2 text-label text-soft">
      <p>
        {near
          ? `Made around the playhead, ${made} of ${of} parts of 8 s; the rest is made when you go there, or render.`
          : `Making the repairs, from the playhead on: ${made} of ${of} parts of 8 s. What is not made yet is heard as it came.`}
      </p>
      <ProgressBar fraction={made / of} label="Repairs made" />
    </div>
  );
}
