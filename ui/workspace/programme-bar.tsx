"use client";

import { Pause, Play, Repeat, SkipBack, SkipForward } from "lucide-react";
import { Popover, ToggleGroup } from "radix-ui";
import { useEffect, useRef } from "react";
import { formatClock, formatDb } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { Hint } from "@ui/design-system/hint";
import { NumberInput } from "@ui/design-system/number-input";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";
import type { ProgrammeHeard } from "@ui/state/programme-plan";
import { startAudition, stopAudition, useAudition } from "@ui/state/audition";
import { engine, useEngineState } from "@ui/state/listening-engine";
import { useWholeProgramme } from "@ui/state/programme";
import { endStretches, hearJoin, joinStretches, useProgrammeListening } from "@ui/state/programme-listening";
import { togglePlay } from "@ui/state/use-monitor-source";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import { EngineReadout, Trouble } from "./listening-bar";

/** Listening to the programme: the whole, this join, all joins in turn, heads and tails. */
export function ProgrammeBar() {
  const programme = useWholeProgramme();
  const { matchedDb, heard } = useProgrammeListening();
  const state = useEngineState();
  const { joinRolls, loopingJoin } = useWorkspace();
  const audition = useAudition(({ audition: now }) => now);
  const ready = programme.timeline !== null && state.status !== "failed";
  const hasJoins = ready && programme.order.length > 1;
  useFollowedItem();
  const goTo = (direction: 1 | -1) => {
    const { order, join } = programme;
    const at = order.findIndex(({ id }) => id === join?.after.item);
    const next = order[Math.max(1, Math.min(order.length - 1, at + direction))];
    if (next) openItem(next.id);
  };
  return (
    <footer className="col-span-3 flex items-center gap-2 overflow-hidden border-t border-hair bg-sheet px-3">
      <Button
        kind="main"
        className="w-24"
        onClick={togglePlay}
        disabled={!ready}
        hint={state.playing ? "Pause" : "Play the programme from the playhead"}
        shortcut="Space"
      >
        {state.playing ? <Pause size={14} /> : <Play size={14} />} {state.playing ? "Pause" : "Play"}
      </Button>
      <span className="flex">
        <Button
          kind="quiet"
          className="px-1"
          disabled={!hasJoins}
          onClick={() => goTo(-1)}
          hint="The join before"
          aria-label="The join before"
        >
          <SkipBack size={14} />
        </Button>
        <Button disabled={!hasJoins} onClick={() => hearJoin(programme)} hint="The join in hand, once" shortcut="K">
          Hear this join
        </Button>
        <Button
          kind="quiet"
          className="px-1"
          disabled={!hasJoins}
          onClick={() => goTo(1)}
          hint="The next join"
          aria-label="The next join"
        >
          <SkipForward size={14} />
        </Button>
      </span>
      <Button
        disabled={!hasJoins}
        aria-pressed={loopingJoin}
        className={loopingJoin ? "border-act bg-act-ground text-act" : ""}
        onClick={() => useWorkspace.setState({ loopingJoin: !loopingJoin })}
        hint="The join in hand over and over, also while it is dragged"
        shortcut="L"
      >
        <Repeat size={14} /> Loop
      </Button>
      <Button
        disabled={!hasJoins}
        onClick={() => startAudition(joinStretches(programme, joinRolls))}
        hint="One join after the other, from the first"
      >
        All joins
      </Button>
      <Button
        disabled={!ready}
        onClick={() => startAudition(endStretches(programme, joinRolls))}
        hint="The beginning and the end of each item"
      >
        Heads and tails
      </Button>
      <JoinRolls />
      <HeardOfProgramme matchedDb={matchedDb} heard={heard} />
      {audition && (
        <button
          type="button"
          onClick={stopAudition}
          className="truncate rounded-[4px] bg-act-ground px-2 text-label text-act"
          title="Stop"
        >
          {audition.stretches[audition.at]!.name}
          {audition.stretches.length > 1 && `, ${audition.at + 1} of ${audition.stretches.length}`}
        </button>
      )}
      {state.problem && <Trouble words={state.problem} />}
      <div className="ml-auto flex shrink-0 items-center gap-2">
        <EngineReadout />
        <ProgrammeClock />
      </div>
    </footer>
  );
}

/** How much is heard around joins, and of heads and tails. */
function JoinRolls() {
  const joinRolls = useWorkspace((workspace) => workspace.joinRolls);
  const field = (which: "before" | "after") => (
    <label className="flex items-center gap-2">
      <span className="w-12">{which}</span>
      <span className="w-20">
        <NumberInput
          label={`Seconds heard ${which} a join`}
          value={joinRolls[which]}
          unit="s"
          onCommit={(seconds) =>
            useWorkspace.setState({ joinRolls: { ...joinRolls, [which]: Math.max(0.5, Math.min(60, seconds)) } })
          }
        />
      </span>
    </label>
  );
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label="Seconds heard around a join"
        className="figure h-7 rounded-[4px] border border-hair px-2 text-label whitespace-nowrap text-act hover:border-act"
        title="Seconds that are heard before and after a join, and of heads and tails"
      >
        {joinRolls.before} + {joinRolls.after} s
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          data-own-keys
          className="z-50 space-y-1 rounded-[4px] border border-hair bg-sheet p-3 text-label"
        >
          {field("before")}
          {field("after")}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const HEARD: { value: ProgrammeHeard; words: string; hint: string; shortcut: string }[] = [
  { value: "original", words: "Original", hint: "The recordings as they came in, at the same places", shortcut: "O" },
  { value: "now", words: "Now", hint: "With everything that is set, as it will be rendered", shortcut: "O" },
  {
    value: "reference",
    words: "Reference",
    hint: "What was laid beside the programme, at the same place",
    shortcut: "Q",
  },
];

function HeardOfProgramme({ matchedDb, heard }: { matchedDb: number; heard: ProgrammeHeard }) {
  const { view } = useCurrentItem();
  const { levelMatched, heardMix } = useWorkspace();
  const hasReferences = view.document.programme.references.length > 0;
  const mixes = [...new Set(view.document.items.flatMap((item) => item.mixes?.map(({ name }) => name) ?? []))];
  return (
    <>
      <ToggleGroup.Root
        type="single"
        value={heard}
        aria-label="What is heard"
        onValueChange={(value) => value && useWorkspace.setState({ monitorSource: value as ProgrammeHeard })}
        className="flex overflow-hidden rounded-[4px] border border-hair"
      >
        {HEARD.map(({ value, words, hint, shortcut }) => (
          <Hint key={value} text={hint} shortcut={shortcut}>
            <ToggleGroup.Item
              value={value}
              disabled={value === "reference" && !hasReferences}
              className={`disabled:text-soft h-7 border-r border-hair px-2 last:border-r-0 ${value === heard ? "bg-act-ground font-semibold text-act" : ""}`}
            >
              {words}
            </ToggleGroup.Item>
          </Hint>
        ))}
      </ToggleGroup.Root>
      {mixes.length > 0 && heard !== "reference" && (
        <Select
          label="Mix that is heard"
          value={heardMix ?? ""}
          options={["", ...mixes]}
          words={(name) => (name === "" ? "mixes in force" : name)}
          onChange={(name) => useWorkspace.setState({ heardMix: name === "" ? null : name })}
        />
      )}
      <Button
        onClick={() => useWorkspace.setState({ levelMatched: !levelMatched })}
        aria-pressed={levelMatched}
        className={levelMatched ? "text-act" : "text-soft"}
        hint="While listening, all is brought to the loudness of the recordings as they came. Renders are not touched."
        shortcut="M"
      >
        {levelMatched ? "◉" : "○"} <span className="figure">{formatDb(matchedDb, { sign: true })} dB</span>
      </Button>
    </>
  );
}

/** While stretches are heard one after the other, their item is the one in hand. */
function useFollowedItem(): void {
  const heard = useAudition(({ audition }) => audition?.stretches[audition.at]?.item ?? null);
  useEffect(() => {
    if (heard) openItem(heard);
  }, [heard]);
}

function ProgrammeClock() {
  const { timeline, duration } = useWholeProgramme();
  const { playing } = useEngineState();
  const cursor = useWorkspace((workspace) => workspace.programmeCursor);
  const ref = useRef<HTMLSpanElement>(null);
  const sampleRate = timeline?.sampleRate ?? 0;
  useEffect(() => {
    let frame = 0;
    const tick = () => {
      const seconds = playing && sampleRate ? engine().position / sampleRate : cursor;
      if (ref.current) ref.current.textContent = formatClock(seconds);
      if (playing) frame = requestAnimationFrame(tick);
    };
    tick();
    return () => cancelAnimationFrame(frame);
  }, [playing, cursor, sampleRate]);
  useEffect(() => {
    if (!playing || !sampleRate) return;
    // The playhead stays where listening stops.
    return () => useWorkspace.setState({ programmeCursor: Math.max(0, engine().position / sampleRate) });
  }, [playing, sampleRate]);
  return (
    <p className="figure text-[16px] whitespace-nowrap">
      <span ref={ref} data-testid="programme-clock" className="inline-block will-change-transform">
        {formatClock(cursor)}
      </span>
      <span className="ml-2 text-label text-soft">of {formatClock(duration).split(".")[0]}</span>
    </p>
  );
}
