"use client";

import { Select } from "@ui/design-system/controls";
import { Activity, Pause, Play, Repeat } from "lucide-react";
import { Popover, ToggleGroup } from "radix-ui";
import { useCallback, useEffect, useRef, useState } from "react";
import { formatClock, formatDb, formatTime } from "@core/audio/format";
import type { ListeningEngine } from "@playback/engine";
import { useLanes } from "@ui/state/lane-settings";
import { useTimeFormatter } from "@ui/state/use-time-format";
import { Button } from "@ui/design-system/button";
import { Hint } from "@ui/design-system/hint";
import { useWorkspace } from "../state/workspace-store";
import { useCurrentItem } from "../state/current-item";
import type { MonitorSourceName } from "../state/monitor-source";
import { ListenMenu } from "./listen-menu";
import { useRecorder } from "../state/recording";
import { engine, useEngineState } from "../state/listening-engine";
import { togglePlay, usePlaybackPlan } from "../state/use-monitor-source";

/** Play, loop, what is heard, and where. */
export function ListeningBar() {
  const { facts } = useCurrentItem();
  const state = useEngineState();
  const looping = useWorkspace((workspace) => workspace.looping);
  const selection = useWorkspace((workspace) => workspace.selection);
  const ready = facts !== null && state.status !== "failed";
  return (
    <footer className="col-span-3 flex items-center gap-2 border-t border-hair bg-sheet px-3">
      <Button
        kind="main"
        className="w-26"
        onClick={togglePlay}
        disabled={!ready}
        hint={state.playing ? "Pause" : "Play from the playhead"}
        shortcut="Space"
      >
        {state.playing ? <Pause size={14} /> : <Play size={14} />} {state.playing ? "Pause" : "Play"}
        <kbd className="figure rounded-[3px] border border-current px-1 text-[10px] leading-4">space</kbd>
      </Button>
      <Button
        onClick={() => useWorkspace.setState({ looping: !looping })}
        aria-pressed={looping}
        className={looping ? "border-act bg-act-ground text-act" : ""}
        hint={
          selection
            ? "Play the selection over and over"
            : "Loops once something is selected: drag in the programme view"
        }
        shortcut="L"
      >
        <Repeat size={14} /> Loop
      </Button>
      <HeardChoice />
      <OtherHeard />
      <MatchSwitch />
      <SpeedChoice />
      <ListenMenu />
      {state.problem && <Trouble words={state.problem} />}
      <div className="ml-auto flex items-center gap-3">
        <RecordingNow />
        <EngineReadout />
        <Clock />
      </div>
    </footer>
  );
}

/** Lies over the stage, so that nothing of the bar is pushed away, until it is dismissed or all goes well again. */
export function Trouble({ words }: { words: string }) {
  return (
    <p
      role="alert"
      className="fixed bottom-[60px] left-[124px] z-30 flex max-w-[560px] items-start gap-2 rounded-[4px] border border-outside bg-sheet px-3 py-1.5 text-outside"
    >
      ▲ {words}
      <button
        type="button"
        aria-label="Dismiss"
        className="text-act hover:underline"
        onClick={() => engine().dismissProblem()}
      >
        dismiss
      </button>
    </p>
  );
}

const CHOICES: { value: MonitorSourceName; words: string; hint: string; shortcut?: string }[] = [
  { value: "original", words: "Original", hint: "The recording as it came in", shortcut: "O" },
  {
    value: "before",
    words: "Before",
    hint: "As it is before the step that was chosen under “Listen”, or before the chain",
  },
  { value: "now", words: "Now", hint: "With everything that is set, as it will be rendered", shortcut: "O" },
  { value: "removed", words: "Removed", hint: "Only what the step, or the whole chain, takes away", shortcut: "D" },
  { value: "reference", words: "Reference", hint: "The recording chosen under “Listen”, at the same place" },
];

function HeardChoice() {
  const heard = useWorkspace((workspace) => workspace.monitorSource);
  const reference = useWorkspace((workspace) => workspace.reference);
  return (
    <ToggleGroup.Root
      type="single"
      value={heard}
      aria-label="What is heard"
      onValueChange={(value) => value && useWorkspace.setState({ monitorSource: value as MonitorSourceName })}
      className="flex overflow-hidden rounded-[4px] border border-hair"
    >
      {CHOICES.map(({ value, words, hint, shortcut }) => (
        <Hint key={value} text={hint} shortcut={shortcut}>
          <ToggleGroup.Item
            value={value}
            disabled={value === "reference" && reference === null}
            className={`h-7 border-r border-hair px-2 last:border-r-0 disabled:text-soft/60 ${value === heard ? "bg-act-ground font-semibold text-act" : ""}`}
          >
            {words}
          </ToggleGroup.Item>
        </Hint>
      ))}
    </ToggleGroup.Root>
  );
}

const OTHER_WORDS: Partial<Record<MonitorSourceName, string>> = {
  first: "First of two",
  second: "Second of two",
  detector: "Detector",
  difference: "Difference of two",
};

/** Said where slots or a detector are heard: the choice beside it has no word for them. */
function OtherHeard() {
  const heard = useWorkspace((workspace) => workspace.monitorSource);
  const words = OTHER_WORDS[heard];
  if (!words) return null;
  return (
    <button
      type="button"
      title={heard === "detector" ? "Hear all again" : "To what is compared"}
      onClick={() =>
        useWorkspace.setState(heard === "detector" ? { monitorSource: "now", step: null } : { dialog: "compare" })
      }
      className="h-7 rounded-[4px] bg-act-ground px-2 font-semibold text-act"
    >
      {words}
    </button>
  );
}

function MatchSwitch() {
  const matched = useWorkspace((workspace) => workspace.levelMatched);
  const { main } = usePlaybackPlan();
  return (
    <Button
      onClick={() => useWorkspace.setState({ levelMatched: !matched })}
      aria-pressed={matched}
      className={matched ? "text-act" : "text-soft"}
      hint="While listening, everything is brought to the loudness of the original, so that louder does not pass for better. Renders are not touched."
      shortcut="M"
    >
      {matched ? "◉" : "○"} matched
      <span className="figure">{formatDb(main.gainDb, { sign: true })} dB</span>
    </Button>
  );
}

const SPEEDS = [-4, -2, -1, 0.5, 0.75, 1, 1.25, 1.5, 2, 3, 4];

function SpeedChoice() {
  const speed = useWorkspace((workspace) => workspace.speed);
  return (
    <Hint text="How fast it is heard; the pitch stays. Below 0 backwards, without the chain." shortcut="J, Shift J">
      <Select
        label="Speed of listening"
        value={speed}
        options={SPEEDS}
        words={(one) => `${String(one).replace("-", "−")}×`}
        onChange={(chosen) => useWorkspace.setState({ speed: chosen })}
        className={`figure h-7 ${speed === 1 ? "text-soft" : "text-act"}`}
      />
    </Hint>
  );
}

/** While something is recorded it is said here, whatever else is open. */
function RecordingNow() {
  const { status, seconds } = useRecorder();
  if (status !== "recording" && status !== "finishing") return null;
  return (
    <button
      type="button"
      onClick={() => useWorkspace.setState({ dialog: "record" })}
      className="figure h-7 rounded-[4px] border border-act px-2 text-act"
    >
      ● {formatTime(seconds)}
    </button>
  );
}

export function EngineReadout() {
  const { playing } = useEngineState();
  const [open, setOpen] = useState(false);
  const [read, setRead] = useState<ListeningEngine["diagnostics"] | null>(null);
  useEffect(() => {
    if (!open) return;
    const refresh = () => setRead(engine().diagnostics);
    refresh();
    const timer = setInterval(refresh, 250);
    return () => clearInterval(timer);
  }, [open]);
  const number = (n: number | null | undefined, unit: string, digits = 0) =>
    n === null || n === undefined ? "—" : `${n.toFixed(digits)} ${unit}`;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Hint text="What the listening engine does: rate, delay, underruns">
        <Popover.Trigger
          aria-label="Engine read-out"
          className={`rounded-[4px] p-1.5 hover:bg-act-ground ${playing ? "text-act" : "text-soft"}`}
        >
          <Activity size={15} />
        </Popover.Trigger>
      </Hint>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={8}
          className="z-50 w-72 rounded-[4px] border border-hair bg-sheet p-3"
        >
          <h2 className="mb-1 font-semibold">Listening engine</h2>
          <dl className="figure grid grid-cols-[1fr_auto] gap-x-3 text-label" data-testid="engine-readout">
            <dt className="text-soft">device rate</dt>
            <dd>{number(read?.sampleRate, "Hz")}</dd>
            <dt className="text-soft">delay of the device</dt>
            <dd>{number(read?.latencyMilliseconds, "ms", 1)}</dd>
            <dt className="text-soft">written ahead</dt>
            <dd>{number(read?.aheadFrames, "frames")}</dd>
            <dt className="text-soft">blocks played</dt>
            <dd data-testid="quanta">{read?.quanta ?? 0}</dd>
            <dt className="text-soft">underruns</dt>
            <dd data-testid="underruns">{read?.underruns ?? 0}</dd>
            <dt className="text-soft">last change written after</dt>
            <dd data-testid="change-ms">{number(read?.changeMilliseconds, "ms", 1)}</dd>
          </dl>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Clock() {
  const { facts } = useCurrentItem();
  const { playing } = useEngineState();
  const cursor = useWorkspace((workspace) => workspace.cursor);
  const words = useTimeFormatter(facts ?? { sampleRate: 48_000 });
  const format = useLanes((lanes) => lanes.timeFormat);
  const secondFormat = useLanes((lanes) => lanes.secondTimeFormat);
  const secondWords = useTimeFormatter(facts ?? { sampleRate: 48_000 }, secondFormat);
  const second = useRef<HTMLSpanElement>(null);
  const told = useCallback(
    (seconds: number) => (format === "clock" ? formatClock(seconds) : words(seconds)),
    [format, words],
  );
  const ref = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let frame = 0;
    const tick = () => {
      const seconds = playing && facts ? engine().position / facts.sampleRate : cursor;
      if (ref.current) ref.current.textContent = told(seconds);
      if (second.current) second.current.textContent = secondWords(seconds);
      if (playing) frame = requestAnimationFrame(tick);
    };
    tick();
    return () => cancelAnimationFrame(frame);
  }, [playing, cursor, facts, told, secondWords]);
  useEffect(() => {
    if (!playing || !facts) return;
    // The playhead stays where listening stops.
    return () => useWorkspace.setState({ cursor: Math.max(0, engine().position / facts.sampleRate) });
  }, [playing, facts]);
  return (
    <p className="figure text-right text-[18px] leading-5 whitespace-nowrap">
      {/* A layer of its own: it changes with every frame, and the rest of the page is not painted again. */}
      <span
        ref={ref}
        data-testid="clock"
        className="inline-block h-[1.3em] align-bottom will-change-transform [contain:strict]"
        style={{ width: `${Math.max(told(cursor).length, told(facts?.duration ?? 0).length)}ch` }}
      >
        {told(cursor)}
      </span>
      <span className="ml-2 text-label text-soft">of {told(facts?.duration ?? 0)}</span>
      {secondFormat !== null && (
        <span
          ref={second}
          data-testid="second-clock"
          title="The same place in the second format (Time, above the lanes)"
          className="block text-label leading-4 will-change-transform"
        >
          {secondWords(cursor)}
        </span>
      )}
    </p>
  );
}
