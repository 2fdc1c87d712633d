"use client";

import { useEffect, useMemo, useState } from "react";
import { Headphones } from "lucide-react";
import { formatDb } from "@core/audio/format";
import { orderProposals, type OrderProposal } from "@core/programme/order-proposals";
import { programmeLevels } from "@core/programme/programme-levels";
import { programmeTimeline } from "@core/project/subjects";
import { knownRecordings } from "@core/project/views";
import { Button } from "@ui/design-system/button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";
import { startAudition, stopAudition } from "@ui/state/audition";
import { levelsOfItem, useWholeProgramme } from "@ui/state/programme";
import { joinStretches } from "@ui/state/programme-listening";
import { useWorkspace } from "@ui/state/workspace-store";

/** What would make the order more even; each is heard on the joins before it is taken. */
export function OrderProposalsDialog({ onClose }: { onClose: () => void }) {
  const { view, edit } = useCurrentItem();
  const programme = useWholeProgramme();
  const { known } = programme;
  const [heard, setHeard] = useState<OrderProposal["id"] | null>(null);
  const { document, sources } = view;
  // By the places that are kept: what is tried changes those that are drawn.
  const proposals = useMemo(() => {
    const timeline = programmeTimeline(document, knownRecordings(sources));
    const byId = new Map(document.items.map((item) => [item.id, item]));
    const levelsOf = (id: string) => levelsOfItem(document, byId.get(id)!, known);
    const levels = timeline && programmeLevels(timeline, document.items, document.programme.lanes, levelsOf);
    return levels ? orderProposals(document.items, levels, levelsOf) : [];
  }, [document, sources, known]);
  const leave = () => {
    setHeard(null);
    useWorkspace.setState({ pendingPlacements: null });
    stopAudition();
  };
  useEffect(
    () => () => {
      useWorkspace.setState({ pendingPlacements: null });
      stopAudition();
    },
    [],
  );
  const hear = (proposal: OrderProposal) => {
    if (heard === proposal.id) return leave();
    setHeard(proposal.id);
    useWorkspace.setState({ pendingPlacements: proposal.changes });
    const { joinRolls } = useWorkspace.getState();
    const touched = new Set(proposal.changes.map(({ item }) => item));
    const stretches = joinStretches(programme, joinRolls).filter(
      ({ item }, i, all) => touched.has(item) || touched.has(all[i - 1]?.item ?? ""),
    );
    startAudition(stretches.length > 0 ? stretches : joinStretches(programme, joinRolls));
  };
  const take = (proposal: OrderProposal) => {
    leave();
    void edit({ type: "placeItems", items: proposal.changes, what: proposal.title.toLowerCase() });
  };
  return (
    <SheetDialog
      open
      onClose={onClose}
      title="Proposals for the order"
      help="Each is worked out on the levels of the items. Hear it: it is drawn and played, and nothing is kept until it is taken."
    >
      {proposals.length === 0 && (
        <p className="text-soft">Steps, pauses and ends are even as they are: nothing is proposed.</p>
      )}
      {proposals.map((proposal) => (
        <section key={proposal.id} className="border-b border-grid py-2" data-testid={`proposal-${proposal.id}`}>
          <header className="flex items-center gap-2">
            <h3 className="font-semibold">{proposal.title}</h3>
            <span className="ml-auto" />
            <Button aria-pressed={heard === proposal.id} onClick={() => hear(proposal)}>
              <Headphones size={13} /> {heard === proposal.id ? "Stop" : "Hear it"}
            </Button>
            <Button kind="main" onClick={() => take(proposal)}>
              Take it
            </Button>
          </header>
          <p className="text-label text-soft">{proposal.why}</p>
          <p className="figure text-label">
            {proposal.changes.map((one) => wordsOf(one, programme.nameOf)).join(" · ")}
          </p>
        </section>
      ))}
    </SheetDialog>
  );
}

function wordsOf({ item, changes }: OrderProposal["changes"][number], nameOf: (item: string) => string): string {
  const { gainDb, gapSeconds, fadeOut } = changes;
  const what = [
    ...(gainDb !== undefined ? [`${formatDb(gainDb, { sign: true })} dB`] : []),
    ...(gapSeconds !== undefined ? [`pause ${gapSeconds.toFixed(2)} s`] : []),
    ...(fadeOut ? [`fade-out ${fadeOut.seconds} s`] : []),
  ];
  return `${nameOf(item)} ${what.join(", ")}`;
}
