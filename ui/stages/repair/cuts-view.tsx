"use client";

import { Scissors } from "lucide-react";
import { useState, type ReactNode } from "react";
import { toast } from "sonner";
import { cutsOf, reopened, type Cut } from "@core/arrange/edits";
import { JOINT_SHAPES, PLAIN_JOINT, type Joint } from "@core/arrange/piece";
import { quietStretches } from "@core/repair/noise-stretch";
import { formatTime } from "@core/signal/format";
import { Button } from "@ui/shared/button";
import { Choice, Setting, Tick } from "@ui/shared/setting";
import { cuttingOf, FILLS, hearAround, useCopied, useCutSettings, type Cutting } from "@ui/workspace/cutting";
import { useDesk } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { recordingFrame } from "@ui/workspace/item-time";
import { soundUrl } from "@ui/workspace/use-stretch-figures";
import { Panel } from "../inspect/panel";
import { showPlace } from "../inspect/show-place";
import { learnInBrowser } from "./learning";

/** Seconds of a joint's crossfade that are offered. */
const JOINT_SECONDS = [0.002, 0.008, 0.02, 0.05, 0.2, 0.5, 1, 2];
/** An edge is moved by this at a time. */
const NUDGE_SECONDS = 0.02;

/** What the item is made of: taking out, putting in, moving, and every cut there is. */
export function CutsView({ facts }: { facts: ItemFacts }) {
  const { edit } = useInHand();
  const cutting = cuttingOf(facts, edit);
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,340px)_minmax(0,1fr)] divide-x divide-hair">
      <Panel title="Cut and put in" aside={<Whole facts={facts} />}>
        <Actions facts={facts} cutting={cutting} />
      </Panel>
      <CutList facts={facts} cutting={cutting} />
    </div>
  );
}

function Whole({ facts }: { facts: ItemFacts }) {
  const { recorded, frames } = facts.arrangement;
  const words = (count: number) => formatTime(count / facts.sampleRate, 2);
  return <span className="figure text-label">{`${words(frames)} of ${words(recorded)} used`}</span>;
}

const Row = ({ children }: { children: ReactNode }) => <div className="flex flex-wrap gap-1.5 py-1">{children}</div>;

function Actions({ facts, cutting }: { facts: ItemFacts; cutting: Cutting }) {
  const selection = useDesk((desk) => desk.selection);
  const { fill, joint, hear } = useCutSettings();
  const copied = useCopied();
  const [seconds, setSeconds] = useState(0.5);
  const pasteable = copied.recording === facts.source.hash;
  return (
    <>
      <p className="py-1 text-label text-soft">
        {selection
          ? `Selected: ${formatTime(selection.start, 3)} to ${formatTime(selection.end, 3)}, ${(selection.end - selection.start).toFixed(3)} s.`
          : "Drag in the programme view to select; , and . set the ends at the playhead while listening."}{" "}
        The recording is never changed: each cut can be opened again.
      </p>
      <Row>
        <Button
          kind="main"
          disabled={!selection}
          onClick={() => cutting.cutOut(fill)}
          shortcut="Delete"
          hint="Takes the selection out; what follows moves up, unless something is left in its place"
        >
          <Scissors size={14} /> Cut out
        </Button>
        <Setting words="leave">
          <Choice
            label="What is left where something is cut out"
            value={fill}
            of={FILLS}
            onChoose={(next) => useCutSettings.setState({ fill: next })}
          />
        </Setting>
        <Button disabled={!selection} onClick={() => cutting.keepOnly()} hint="Takes off what lies before and behind">
          Keep only this
        </Button>
      </Row>
      <Row>
        <Button disabled={!selection} onClick={() => cutting.copy()} shortcut="Ctrl C" hint="To be put in elsewhere">
          Copy
        </Button>
        <Button
          disabled={!pasteable}
          onClick={() => cutting.paste()}
          shortcut="Ctrl V"
          hint={
            copied.recording && !pasteable
              ? "What was copied belongs to another recording"
              : "At the playhead, or in the place of the selection"
          }
        >
          Put in
        </Button>
        <Button
          disabled={!selection}
          onClick={() => cutting.move()}
          shortcut="Shift V"
          hint="Takes the selection to the playhead; click in the lanes with Alt to set it and keep the selection"
        >
          Move to the playhead
        </Button>
      </Row>
      <Row>
        <Button onClick={() => cutting.trim("head")} hint="What lies before the playhead">
          Take off the head
        </Button>
        <Button onClick={() => cutting.trim("tail")} hint="What lies behind the playhead">
          Take off the tail
        </Button>
      </Row>
      <Row>
        <Button onClick={() => cutting.insert("silence", seconds)} hint="At the playhead">
          Put in silence
        </Button>
        <RoomTone facts={facts} insert={() => cutting.insert("room tone", seconds)} />
        <Setting words="of">
          <Choice
            label="Length of what is put in"
            value={seconds}
            of={[0.1, 0.25, 0.5, 1, 2, 3, 5]}
            words={(s) => `${s} s`}
            onChoose={setSeconds}
          />
        </Setting>
      </Row>
      <div className="mt-1 border-t border-grid pt-1">
        <JointSetting words="new joints" joint={joint} onChange={(next) => useCutSettings.setState({ joint: next })} />
        <Tick
          words="hear the place after each edit"
          on={hear}
          onChange={(next) => useCutSettings.setState({ hear: next })}
        />
      </div>
    </>
  );
}

/** What room tone is like: learned from a quiet place of this recording, or one of the noises kept by name. */
function RoomTone({ facts, insert }: { facts: ItemFacts; insert: () => void }) {
  const { view } = useInHand();
  const { tone, fill } = useCutSettings();
  const [from, setFrom] = useState("quiet");
  const { profiles } = view.document;
  const learn = async () => {
    const { values, hopSeconds } = facts.curves.samplePeakDbfs;
    const [quiet] = quietStretches(values, hopSeconds, 1);
    const url = facts.source.pcm_hash && soundUrl(facts.source.pcm_hash);
    if (!quiet || !url)
      return toast.error("No place is quiet enough", {
        description: "Half a second without speech is needed: select one, and learn a noise from it in a noise step.",
      });
    const range = { start: recordingFrame(facts, quiet.start), end: recordingFrame(facts, quiet.end) };
    try {
      const { profile } = await learnInBrowser({ what: "noise", url, steps: facts.item.repairs, range });
      useCutSettings.setState({ tone: profile });
      return profile;
    } catch (error) {
      toast.error("The room tone could not be learned", { description: String(error) });
    }
  };
  const choose = (next: string) => {
    setFrom(next);
    const kept = profiles.find(({ id }) => id === next);
    if (kept) useCutSettings.setState({ tone: kept.profile });
    else void learn();
  };
  const ready = async () => {
    if (useCutSettings.getState().tone === null) await learn();
    if (useCutSettings.getState().tone !== null) insert();
  };
  return (
    <>
      <Button onClick={() => void ready()} hint="Noise like the room's own, made so that it does not repeat">
        Put in room tone
      </Button>
      <Choice
        label="What the room tone is like"
        value={from}
        of={["quiet", ...profiles.map(({ id }) => id)]}
        words={(id) => profiles.find((one) => one.id === id)?.name ?? "like the quietest place"}
        onChoose={choose}
      />
      {fill === "room tone" && tone === null && (
        <button type="button" className="text-label text-act" onClick={() => void learn()}>
          learn it first
        </button>
      )}
    </>
  );
}

function JointSetting({ words, joint, onChange }: { words: string; joint: Joint; onChange: (joint: Joint) => void }) {
  return (
    <Setting words={words}>
      <span className="flex gap-1">
        <Choice
          label={`Shape of ${words}`}
          value={joint.shape}
          of={JOINT_SHAPES}
          onChoose={(shape) => onChange({ ...joint, shape })}
        />
        <Choice
          label={`Length of ${words}`}
          value={joint.seconds}
          of={JOINT_SECONDS.includes(joint.seconds) ? JOINT_SECONDS : [joint.seconds, ...JOINT_SECONDS]}
          words={(s) => (s < 1 ? `${s * 1000} ms` : `${s} s`)}
          onChoose={(s) => onChange({ ...joint, seconds: s })}
        />
      </span>
    </Setting>
  );
}

function CutList({ facts, cutting }: { facts: ItemFacts; cutting: Cutting }) {
  const { arrangement } = facts;
  const cuts = cutsOf(arrangement);
  const [chosen, setChosen] = useState<number | null>(null);
  return (
    <Panel
      title="Cuts"
      aside={
        cuts.length > 0 ? (
          <button type="button" className="text-act" onClick={() => cutting.openAll()}>
            open all {cuts.length}
          </button>
        ) : (
          "none"
        )
      }
    >
      {cuts.length === 0 && (
        <p className="py-2 text-soft">
          The whole recording is used. Select what is to go and press Delete: what follows moves up, and the joint is
          heard.
        </p>
      )}
      <ul data-testid="cuts">
        {cuts.map((cut) => (
          <CutRow
            key={cut.index}
            cut={cut}
            facts={facts}
            cutting={cutting}
            open={chosen === cut.index}
            onChoose={() => setChosen(chosen === cut.index ? null : cut.index)}
          />
        ))}
      </ul>
    </Panel>
  );
}

/** What a cut does, in words. */
function cutWords({ index, leftOut }: Cut, { arrangement, sampleRate }: ItemFacts): string {
  const { placed } = arrangement;
  const out = `${(leftOut / sampleRate).toFixed(2)} s`;
  if (index === 0) return `head, ${out} left out`;
  const here = placed[index]?.piece;
  if (!here) return `tail, ${out} left out`;
  const length = ((here.end - here.start) / sampleRate).toFixed(2);
  if (here.kind !== "recording") return `${length} s of ${here.kind === "tone" ? "room tone" : "silence"} put in`;
  if (placed[index - 1]!.piece.kind !== "recording") return "the recording goes on";
  return leftOut > 0 ? `${out} left out` : `goes on from ${formatTime(here.start / sampleRate, 2)} of the recording`;
}

function CutRow({
  cut,
  facts,
  cutting,
  open,
  onChoose,
}: {
  cut: Cut;
  facts: ItemFacts;
  cutting: Cutting;
  open: boolean;
  onChoose: () => void;
}) {
  const { arrangement, sampleRate } = facts;
  const { at, index } = cut;
  const seconds = at / sampleRate;
  const piece = arrangement.pieces[index];
  const isEnd = index === 0 || !piece;
  const nudge = (edge: "before" | "behind", by: number) => () => cutting.nudge(index, edge, at, by);
  const edges = [
    ["before", "what comes before ends", arrangement.pieces[index - 1]],
    ["behind", "what follows begins", piece],
  ] as const;
  return (
    <li className={`border-b border-grid py-0.5 ${open ? "-mx-2 bg-act-ground px-2" : ""}`}>
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="figure text-act hover:underline"
          onClick={() => {
            showPlace(facts, seconds);
            hearAround(facts, seconds);
          }}
          title="Show, and hear around it"
        >
          {formatTime(seconds, 3)}
        </button>
        <button type="button" aria-expanded={open} className="min-w-0 flex-1 truncate text-left" onClick={onChoose}>
          {cutWords(cut, facts)}
          {!isEnd && (
            <span className="text-label text-soft">
              {" "}
              · {(piece.joint ?? PLAIN_JOINT).shape}, {(piece.joint ?? PLAIN_JOINT).seconds * 1000} ms
            </span>
          )}
        </button>
        {reopened(arrangement, index) && (
          <Button kind="quiet" onClick={() => cutting.open(index, at)} hint="What was left out is there again">
            Open
          </Button>
        )}
      </div>
      {open && (
        <div className="grid gap-0.5 pb-1 text-label">
          {!isEnd && (
            <JointSetting
              words="this joint"
              joint={piece.joint ?? PLAIN_JOINT}
              onChange={(joint) => cutting.setJoint(index, at, joint)}
            />
          )}
          {edges.map(
            ([edge, words, side]) =>
              side?.kind === "recording" && (
                <div key={edge} role="group" aria-label={words} className="flex items-center justify-between gap-2">
                  <span className="text-soft">{words}</span>
                  <span className="flex gap-1">
                    <Button onClick={nudge(edge, -NUDGE_SECONDS)}>−20 ms</Button>
                    <Button onClick={nudge(edge, NUDGE_SECONDS)}>+20 ms</Button>
                  </span>
                </div>
              ),
          )}
        </div>
      )}
    </li>
  );
}
