"use client";

import { Tabs } from "radix-ui";
import { useMemo } from "react";
import type { SoughtEvents } from "@core/events/sought-events";
import { findingsOf, STATUS_OF_SEVERITY } from "@core/findings";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { ViewTabs } from "@ui/design-system/view-tabs";
import { useWorkspace, type InspectView } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soughtInItem } from "@ui/state/sought-events";
import { ChannelsView } from "./channels-view";
import { CompareView } from "./compare-view";
import { DirectionsView } from "./directions-view";
import { FiguresView } from "./figures-view";
import { FindingsView } from "./findings-view";
import { LoudnessView } from "./loudness-view";
import { SpectrumView } from "./spectrum-view";
import { useMeasured, type MeasuredRange } from "./use-measured";

const NAMES: Record<InspectView, string> = {
  figures: "Figures",
  findings: "Findings",
  loudness: "Loudness",
  spectrum: "Spectrum",
  channels: "Channels",
  directions: "Directions and folds",
  compare: "Compare",
};

const { directions: _, ...WITHOUT_DIRECTIONS } = NAMES;

/** What was measured of the item as it came, against the deliverable in force; each figure leads to its place. */
export function InspectStage() {
  const { facts } = useCurrentItem();
  if (!facts) return <p className="p-4 text-soft">Once a recording is read, its figures stand here.</p>;
  return <Inspected facts={facts} />;
}

/** What the search found in what is inspected, in seconds of that. */
function soughtWithin(facts: ItemFacts, { offset, figures }: MeasuredRange): SoughtEvents[] {
  return soughtInItem(facts).flatMap((one) => {
    if (offset === 0 && figures === facts.figures) return [one];
    const places = one.places
      .map(({ seconds, length }) => ({ seconds: seconds - offset, length }))
      .filter(({ seconds }) => seconds >= 0 && seconds < figures.durationSeconds);
    return places.length > 0 ? [{ ...one, count: places.length, places }] : [];
  });
}

function Inspected({ facts }: { facts: ItemFacts }) {
  const { spec } = useCurrentItem();
  const shown = useWorkspace((workspace) => workspace.inspect);
  const stretch = useMeasured(facts);
  const findings = useMemo(
    () => findingsOf(stretch.figures, spec, soughtWithin(facts, stretch)),
    [stretch, spec, facts],
  );
  const immersive = stretch.figures.channels > 2;
  const view = shown === "directions" && !immersive ? "figures" : shown;
  return (
    <Tabs.Root
      value={view}
      onValueChange={(next) => useWorkspace.setState({ inspect: next as InspectView })}
      className="flex h-full flex-col"
    >
      <ViewTabs
        label="What is inspected"
        names={immersive ? NAMES : WITHOUT_DIRECTIONS}
        behind={(name) =>
          name === "findings" &&
          findings.length > 0 && (
            <>
              <span className="figure">{findings.length}</span>
              <ComplianceMark status={STATUS_OF_SEVERITY[findings[0]!.severity]} size={9} />
            </>
          )
        }
      />
      <Tabs.Content value={view} className="min-h-0 flex-1 outline-none">
        {view === "figures" && <FiguresView facts={facts} stretch={stretch} />}
        {view === "findings" && <FindingsView facts={facts} stretch={stretch} findings={findings} />}
        {view === "loudness" && <LoudnessView facts={facts} stretch={stretch} />}
        {view === "spectrum" && <SpectrumView facts={facts} stretch={stretch} />}
        {view === "channels" && <ChannelsView facts={facts} stretch={stretch} />}
        {view === "directions" && <DirectionsView facts={facts} stretch={stretch} />}
        {view === "compare" && <CompareView facts={facts} />}
      </Tabs.Content>
    </Tabs.Root>
  );
}
