"use client";

import { useMemo, useState } from "react";
import { processorNamed, settingsOf } from "@core/processors";
import { levelProposal, repairProposals, type RepairProposal } from "@core/delivery/repair-proposals";
import { repairNamed, repairSettings, type RepairStep } from "@core/repair";
import { formatDb } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { engine, useEngineState } from "@ui/state/listening-engine";
import { togglePlay } from "@ui/state/use-monitor-source";
import { useTriedNoise, type TriedNoise } from "@ui/state/use-tried-noise";
import { newId } from "@ui/api/use-project";
import { Panel } from "../../design-system/panel";
import { secondsOfRecording } from "@ui/state/item-time";
import { showRange } from "../../state/show-range";

/** Heard around the place of a proposal: enough to hold a pause and the sound beside it. */
const HEARD_SECONDS = 6;

/** What could be done, by what was measured: heard first, then the chosen ones are added as steps in one action. */
export function ProposalsView({ facts }: { facts: ItemFacts }) {
  const { item, edit, spec } = useCurrentItem();
  const { figures, events } = facts.source;
  const proposals = useMemo(
    () => (figures ? repairProposals(figures, spec, events ?? []) : []),
    [figures, spec, events],
  );
  const noise = proposals.find(({ id }) => id === "noise");
  const tried = useTriedNoise(facts.source, facts.item, noise ? noise.strengths.map(({ step }) => step) : []);
  const [strengths, setStrengths] = useState<Record<string, number>>({});
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  if (!item) return null;
  const suggestedOf = (proposal: RepairProposal) =>
    proposal === noise ? suggestedBy(tried, proposal) : proposal.suggested;
  const strengthOf = (proposal: RepairProposal) => proposal.strengths[strengths[proposal.id] ?? suggestedOf(proposal)]!;
  const there = (proposal: RepairProposal) => item.repairs.some(({ type }) => type === strengthOf(proposal).step.type);
  const open = proposals.filter((proposal) => !there(proposal));
  const chosen = open.filter(({ id }) => !left.has(id));
  const apply = () => {
    useWorkspace.setState({ trialRepairs: [] });
    void edit({
      type: "addRepairs",
      item: item.id,
      steps: chosen.map((proposal) => ({ ...strengthOf(proposal).step, id: newId() }) as RepairStep),
    });
  };
  return (
    <Panel
      title="Proposals"
      aside={
        chosen.length > 0 && (
          <Button kind="main" onClick={apply} hint="Adds them as steps, in this order; each can be changed after">
            Add {chosen.length === 1 ? "this repair" : `these ${chosen.length} repairs`}
          </Button>
        )
      }
    >
      {proposals.length === 0 && (
        <p className="py-2 text-soft">
          Nothing was measured that a repair would mend: no clipped runs, no hum, and the floor is low enough
          {spec ? ` for ${spec.name}` : ""}
          {events ? ", no clicks and little mouth noise" : ". Clicks and mouth noise are being looked for"}.
        </p>
      )}
      {proposals.length > 0 && open.length === 0 && (
        <p className="py-2 text-soft">Everything that was proposed is among the steps. Choose a step to change it.</p>
      )}
      <LevelProposal />
      <ul data-testid="proposals">
        {open.map((proposal) => (
          <li
            key={proposal.id}
            className="grid grid-cols-[minmax(0,1fr)_auto] items-start gap-x-3 border-b border-grid py-1.5"
          >
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="size-4 shrink-0 self-center accent-act"
                checked={!left.has(proposal.id)}
                onChange={(event) => {
                  const next = new Set(left);
                  if (event.target.checked) next.delete(proposal.id);
                  else next.add(proposal.id);
                  setLeft(next);
                }}
              />
              <span className="font-semibold">{proposal.title}</span>
            </label>
            <p className="col-span-2 row-start-2 pl-6 text-soft">
              {proposal.why}
              {proposal === noise && ` ${triedWords(tried, proposal)}`}
            </p>
            <Strengths
              proposal={proposal}
              chosen={strengthOf(proposal)}
              onChoose={(index) => setStrengths({ ...strengths, [proposal.id]: index })}
              facts={facts}
            />
          </li>
        ))}
      </ul>
    </Panel>
  );
}

/** The gentlest strength that was found to take enough away; the firmest where none does. */
function suggestedBy({ lowersDb: tried }: TriedNoise, { suggested, wantedDb = 0, strengths }: RepairProposal): number {
  if (tried.length === 0 || tried.some((drop) => drop === null)) return suggested;
  const enough = tried.findIndex((drop) => drop! >= wantedDb);
  return enough < 0 ? strengths.length - 1 : enough;
}

function triedWords({ lowersDb: tried, isTrying }: TriedNoise, { strengths, wantedDb = 0 }: RepairProposal): string {
  if (isTrying) return "Being tried on the sound around its quietest half second …";
  if (tried.some((drop) => drop === null)) return "";
  const drops = tried.map((drop, index) => `${strengths[index]!.label} takes ${formatDb(drop)} dB`).join(", ");
  const isEnough = tried.some((drop) => drop! >= wantedDb);
  return `Tried there: ${drops}; ${formatDb(wantedDb)} dB ${isEnough ? "are wanted" : "would be wanted, which none gives by itself"}.`;
}

/** Gain and limiter that bring the item, as it is after its repairs, inside a spec that leaves the level alone. */
function LevelProposal() {
  const { item, edit, spec, chainFigures, chain } = useCurrentItem();
  const entries = useMemo(() => (chainFigures ? levelProposal(chainFigures, spec) : []), [chainFigures, spec]);
  if (!item || !spec || entries.length === 0) return null;
  const words = entries.map(
    (entry) =>
      `${processorNamed(entry.type).name.toLowerCase()} ${processorNamed(entry.type).summary(settingsOf(entry))}`,
  );
  const add = async () => {
    for (const entry of entries) await edit({ type: "addProcessor", item: item.id, entry: { ...entry, id: newId() } });
  };
  return (
    <div className="flex items-start justify-between gap-2 border-b border-grid py-1.5" data-testid="level-proposal">
      <p>
        <b>Bring it inside {spec.name}</b>
        <span className="block text-soft">
          {words.join(", ")}
          {chain.length > 0 && ", at the end of the chain"}. Predicted in the strip above once it is added.
        </span>
      </p>
      <Button onClick={() => void add()} hint="Adds them to the chain in Shape, where they can be changed">
        Add to the chain
      </Button>
    </div>
  );
}

/** Takes the repair on trial away again, with the loop that it was heard in. */
function stopHearing(): void {
  useWorkspace.setState({ trialRepairs: [], looping: false, selection: null });
  engine().pause();
}

function Strengths({
  proposal,
  chosen,
  onChoose,
  facts,
}: {
  proposal: RepairProposal;
  chosen: RepairProposal["strengths"][number];
  onChoose: (index: number) => void;
  facts: ItemFacts;
}) {
  const trial = useWorkspace((workspace) => workspace.trialRepairs);
  const { playing } = useEngineState();
  const heard = trial.includes(chosen.step);
  const hear = (step: RepairStep) => {
    useWorkspace.setState({ trialRepairs: [step], monitorSource: "now" });
    const at = proposal.at === null ? 0 : (secondsOfRecording(facts, Math.round(proposal.at * facts.sampleRate)) ?? 0);
    showRange(facts, Math.max(0, at - HEARD_SECONDS / 2), HEARD_SECONDS);
    useWorkspace.setState({ looping: true });
    if (!playing) togglePlay();
  };
  return (
    <>
      <Button
        className="col-start-2 row-start-1"
        aria-pressed={heard}
        onClick={() => (heard ? stopHearing() : hear(chosen.step))}
        hint="Loops a short stretch with this repair on top of the steps, without keeping it"
      >
        {heard ? "Stop hearing it" : "Hear it"}
      </Button>
      <div className="col-span-2 row-start-3 flex flex-wrap items-center gap-1.5 pt-1 pl-6">
        {proposal.strengths.map(({ label, step }, index) => (
          <button
            key={label}
            type="button"
            aria-pressed={step === chosen.step}
            onClick={() => {
              onChoose(index);
              if (trial.length > 0) hear(step);
            }}
            className={`h-6 rounded-[4px] border px-2 ${step === chosen.step ? "border-act bg-act-ground text-act" : "border-hair"}`}
          >
            {label}
            <span className="ml-1.5 text-label text-soft">
              {repairNamed(step.type).summary(repairSettings(step), step.learned)}
            </span>
          </button>
        ))}
      </div>
    </>
  );
}
