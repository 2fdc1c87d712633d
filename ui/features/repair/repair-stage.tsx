"use client";

import { Tabs } from "radix-ui";
import { isActive } from "@core/repair";
import { formatDb } from "@core/audio/format";
import { ProgressBar } from "@ui/design-system/progress-bar";
import { ViewTabs } from "@ui/design-system/view-tabs";
import { useDesk, type RepairView } from "@ui/state/workspace-store";
import { useInHand, type ItemFacts } from "@ui/state/current-item";
import { useRepairing } from "@ui/state/repair-progress";
import { Panel } from "../../design-system/panel";
import { ConvertView } from "./convert-view";
import { CutsView } from "./cuts-view";
import { ListsView } from "./events-view";
import { Places } from "./level-places";
import { ProposalsView } from "./proposals-view";
import { AddRepair, StepList } from "./step-list";
import { StepEditor } from "./step-editor";

/** What is mended before anything is shaped: the steps in their order, one of them in hand, and what could be done. */
export function RepairStage() {
  const { facts, item } = useInHand();
  const step = useDesk((desk) => desk.step);
  if (!facts || !item)
    return <p className="p-4 text-soft">Once a recording is read, it is repaired here, step by step.</p>;
  const chosen = item.repairs.find(({ id }) => id === step);
  return (
    <div className="grid h-full grid-cols-[312px_minmax(0,1fr)] divide-x divide-hair">
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
  const view = useDesk((desk) => desk.repair);
  return (
    <Tabs.Root
      value={view}
      onValueChange={(next) => useDesk.setState({ repair: next as RepairView })}
      className="flex min-h-0 flex-col"
    >
      <ViewTabs label="What is repaired" names={VIEW_NAMES} />
      <Tabs.Content value={view} className="min-h-0 flex-1 outline-none">
        {view === "proposals" && (
          <div className="grid h-full min-h-0 grid-cols-2 divide-x divide-hair">
            <ProposalsView facts={facts} />
            <Places facts={facts} />
          </div>
        )}
        {view === "lists" && <ListsView facts={facts} />}
        {view === "convert" && <ConvertView facts={facts} />}
        {view === "time" && <CutsView facts={facts} />}
      </Tabs.Content>
    </Tabs.Root>
  );
}

/** What the repairs did, measured: how much of the wanted sound went along, and what became of the floor. */
function Cost() {
  const { facts } = useInHand();
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
  const { item } = useInHand();
  const { made, of, near, problem } = useRepairing();
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
