"use client";

import Link from "next/link";
import { useEffect } from "react";
import { watchWindows } from "@ui/state/window-history";
import type { Command } from "@core/project/commands";
import type { ProjectView } from "@core/project/views";
import { useWarningBeforeLeaving } from "@ui/api/save-state";
import { useJobProgress } from "@ui/api/server-events";
import { TimelineView } from "@ui/timeline/timeline-view";
import { DropAnywhere } from "@ui/features/intake/drop-anywhere";
import { IntakeStage } from "@ui/features/intake/intake-stage";
import { InspectStage } from "@ui/features/inspect/inspect-stage";
import { RepairStage } from "@ui/features/repair/repair-stage";
import { ShapeStage } from "@ui/features/shape/shape-stage";
import { SequenceStage } from "@ui/features/sequence/sequence-stage";
import { DeliverStage } from "@ui/features/deliver/deliver-stage";
import { useAddress } from "../state/address";
import { ContradictionDialog } from "./contradiction-dialog";
import { CommandPalette } from "./command-palette";
import { DeskPanels } from "./desk-panels";
import { openItem, useWorkspace, type StageName } from "../state/workspace-store";
import { ShownInput } from "./shown-input";
import { StageNav } from "./stage-nav";
import { useFreezeProgress } from "../state/freezing";
import { HistoryPanel } from "./history-panel";
import { CurrentItemProvider, useCurrentItem } from "../state/current-item";
import { ProgrammeProvider } from "../state/programme";
import { ComparePanel } from "./compare-panel";
import { KeysPanel } from "./keys-panel";
import { ListeningBar } from "./listening-bar";
import { ProgrammeBar } from "./programme-bar";
import { CommentsPanel } from "./comments-panel";
import { MarkersPanel } from "./markers-panel";
import { RecordPanel } from "./record-panel";
import { useMonitoring } from "../state/use-monitor-source";
import { useRepairRendering } from "../state/repair-rendering";
import { MeterColumn } from "./meter-column";
import { ComplianceStrip } from "./compliance-strip";
import { useCommandKeys } from "./commands";
import { useEdit, useProject } from "../api/use-project";

const PANELS: Record<StageName, { panel: () => React.ReactNode; programme: boolean }> = {
  intake: { panel: IntakeStage, programme: true },
  inspect: { panel: InspectStage, programme: true },
  repair: { panel: RepairStage, programme: true },
  shape: { panel: ShapeStage, programme: true },
  sequence: { panel: SequenceStage, programme: false },
  deliver: { panel: DeliverStage, programme: false },
};

export function Workspace({ project }: { project: string }) {
  const { data: view, error } = useProject(project);
  const edit = useEdit(project);
  if (error && !view) return <Trouble message={error.message} />;
  if (!view) return <p className="p-6 text-soft">Opening the project …</p>;
  return <Opened view={view} edit={edit} />;
}

/** What the address says is taken in hand before anything is shown. */
function Opened({ view, edit }: { view: ProjectView; edit: (command: Command) => Promise<void> }) {
  useAddress(view.document.items);
  const isProgramme = useWorkspace((workspace) => workspace.stage === "sequence");
  return (
    <CurrentItemProvider view={view} edit={edit}>
      <ProgrammeProvider isHeard={isProgramme}>
        <Desk project={view.id} />
      </ProgrammeProvider>
    </CurrentItemProvider>
  );
}

function Trouble({ message }: { message: string }) {
  return (
    <main className="p-8">
      <h1 className="text-head font-semibold">The project cannot be opened.</h1>
      <p className="mt-2 max-w-prose">{message}</p>
      <p className="mt-4">
        <Link href="/" className="text-act underline">
          Back to the library
        </Link>
      </p>
    </main>
  );
}

function Desk({ project }: { project: string }) {
  const stage = useWorkspace((workspace) => workspace.stage);
  const { item, view } = useCurrentItem();
  const connected = useJobProgress((state) => state.connected);
  const isProgramme = stage === "sequence";
  useMonitoring(!isProgramme);
  useRepairRendering();
  useFreezeProgress();
  useCommandKeys(project);
  useWarningBeforeLeaving(project);
  useEffect(watchWindows, []);
  const firstItem = item?.id ?? null;
  useEffect(() => {
    if (firstItem) openItem(firstItem);
  }, [firstItem]);
  useEffect(() => {
    // The address of a project with this behind it opens one whose processors do harm.
    if (new URLSearchParams(location.search).has("without-processors")) useWorkspace.setState({ chainBypassed: true });
  }, []);
  useEffect(() => {
    document.title = `${view.document.name} · Resonum`;
  }, [view.document.name]);
  const { panel: Panel, programme } = PANELS[stage];
  return (
    <DropAnywhere project={project}>
      <div className="grid h-screen min-w-[1080px] grid-cols-[112px_minmax(0,1fr)_auto] grid-rows-[56px_minmax(0,1fr)_52px] bg-paper">
        <ComplianceStrip />
        <StageNav />
        <DeskPanels
          notice={
            !connected ? (
              <p role="status" className="border-b border-hair bg-band px-3 py-1 text-label">
                The server does not answer at the moment. What was saved is safe; the page goes on by itself once it is
                back.
              </p>
            ) : (
              view.role !== "edit" && (
                <p role="status" className="border-b border-hair bg-band px-3 py-1 text-label">
                  You listen to this project: hear it, measure it and download from it. What you try stays unsaved.
                </p>
              )
            )
          }
          timeline={programme && <TimelineView />}
          panel={<Panel />}
          meters={<MeterColumn />}
        />
        {isProgramme ? <ProgrammeBar /> : <ListeningBar />}
      </div>
      <HistoryPanel project={project} />
      <MarkersPanel />
      <CommentsPanel />
      <ComparePanel />
      <RecordPanel project={project} />
      <KeysPanel project={project} />
      <CommandPalette project={project} />
      <ContradictionDialog />
      <ShownInput />
    </DropAnywhere>
  );
}
