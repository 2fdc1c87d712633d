"use client";

import { Pause, Play, Repeat, SkipBack, SkipForward } from "lucide-react";
import { ToggleGroup } from "radix-ui";
import { useEffect, useRef } from "react";
import { formatClock, formatDb } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { Hint } from "@ui/design-system/hint";
import { NumberInput } from "@ui/design-system/number-input";
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
  const { matchedDb } = useProgrammeListening();
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
  const roll = (which: "before" | "after") => (seconds: number) =>
    useWorkspace.setState({ joinRolls: { ...joinRolls, [which]: Math.max(0.5, Math.min(60, seconds)) } });
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
      <span className="flex items-center gap-1 text-label text-soft">
        before
        <span className="w-14">
          <NumberInput
            label="Seconds heard before a join"
            value={joinRolls.before}
            unit="s"
            onCommit={roll("before")}
          />
        </span>
        after
        <span className="w-14">
          <NumberInput label="Seconds heard after a join" value={joinRolls.after} unit="s" onCommit={roll("after")} />
        </span>
      </span>
      <HeardOfProgramme matchedDb={matchedDb} />
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

function HeardOfProgramme({ matchedDb }: { matchedDb: number }) {
  const { monitorSource, levelMatched } = useWorkspace();
  const heard = monitorSource === "original" ? "original" : "now";
  return (
    <>
      <ToggleGroup.Root
        type="single"
        value={heard}
        aria-label="What is heard"
        onValueChange={(value) =>
          value && useWorkspace.setState({ monitorSource: value === "original" ? "original" : "now" })
        }
        className="flex overflow-hidden rounded-[4px] border border-hair"
      >
        {[
          { value: "original", words: "Original", hint: "The recordings as they came in, at the same places" },
          { value: "now", words: "Now", hint: "With everything that is set, as it will be rendered" },
        ].map(({ value, words, hint }) => (
          <Hint key={value} text={hint} shortcut="O">
            <ToggleGroup.Item
              value={value}
              className={`h-7 border-r border-hair px-2 last:border-r-0 ${value === heard ? "bg-act-ground font-semibold text-act" : ""}`}
            >
              {words}
            </ToggleGroup.Item>
          </Hint>
        ))}
      </ToggleGroup.Root>
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
