"use client";

import { Circle, Square } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { SIMULATED_INPUT } from "@playback/recorder";
import { formatBytes, formatClock, formatDb, formatTime } from "@core/audio/format";
import { Select, Setting } from "@ui/design-system/controls";
import { useTimeFormatter } from "@ui/state/use-time-format";
import { Button } from "@ui/design-system/button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useWorkspace } from "../state/workspace-store";
import { placeMarkers } from "@ui/state/markers";
import { itemFrame } from "../state/item-time";
import { useCurrentItem } from "../state/current-item";
import { engine } from "../state/listening-engine";
import { recorder, useRecorder } from "../state/recording";

/** Recording goes on when this sheet is closed: the listening bar says so. */
export function RecordPanel({ project }: { project: string }) {
  const open = useWorkspace((workspace) => workspace.dialog === "record");
  return (
    <SheetDialog
      side
      open={open}
      onClose={() => useWorkspace.setState({ dialog: null })}
      title="Record"
      help="What comes in goes to the server as it comes: closing this page loses less than a second."
    >
      <Record project={project} />
    </SheetDialog>
  );
}

const RATES = [44_100, 48_000, 96_000];
const MONITOR_LEVELS = [0, -6, -12, -18];
const PRE_ROLLS = [0, 1, 2, 3, 5];
const STOPS = ["by hand", "at the end of the selection", "at the next marker"] as const;

function Record({ project }: { project: string }) {
  const state = useRecorder();
  const { facts, view } = useCurrentItem();
  const selection = useWorkspace((workspace) => workspace.selection);
  const inputs = useInputs(state.status);
  const [device, setDevice] = useState("");
  const [channels, setChannels] = useState<1 | 2>(1);
  const [rate, setRate] = useState(facts?.sampleRate ?? 48_000);
  const [name, setName] = useState(`Take ${view.sources.length + 1}`);
  const [stop, setStop] = useState<(typeof STOPS)[number]>("by hand");
  const [preRoll, setPreRoll] = useState(2);
  const words = useTimeFormatter(facts ?? { sampleRate: 48_000 });
  const busy = state.status === "recording" || state.status === "finishing";
  const retake = stop === "at the end of the selection" && selection !== null && facts !== null;
  useStopAt(state.status === "recording", stop);

  const record = () => {
    if (!retake) {
      if (stop === "at the next marker") void engine().play();
      return recorder().start(project, name);
    }
    // The item is heard from before the place; recording begins when the place is reached.
    const { item } = facts;
    const from = itemFrame(facts, selection.start);
    engine().seek(itemFrame(facts, selection.start - preRoll));
    void engine().play();
    const wait = setInterval(() => {
      if (engine().position < from && engine().state.playing) return;
      clearInterval(wait);
      if (engine().state.playing)
        recorder().start(project, `${item.name} retake ${words(selection.start, 1)}`.replace(/[/\\:]/g, "."));
    }, 5);
  };

  return (
    <>
      <Setting label="input">
        <Select
          label="Input"
          value={device}
          options={["", ...inputs.map(({ deviceId }) => deviceId), SIMULATED_INPUT]}
          words={(id) =>
            id === ""
              ? "as the system has it"
              : id === SIMULATED_INPUT
                ? "simulated microphone"
                : inputs.find(({ deviceId }) => deviceId === id)?.label.slice(0, 30) || "input"
          }
          onChange={setDevice}
        />
      </Setting>
      <Setting label="channels">
        <Select
          label="Channels to record"
          value={channels}
          options={[1, 2] as const}
          words={(n) => (n === 1 ? "mono" : "stereo")}
          onChange={setChannels}
        />
      </Setting>
      <Setting label="sample rate">
        <Select
          label="Sample rate to record"
          value={rate}
          options={[...new Set([...RATES, rate])]}
          words={(hertz) => `${hertz} Hz`}
          onChange={setRate}
        />
      </Setting>
      <Setting label="heard meanwhile">
        <Select
          label="Input heard meanwhile"
          value={state.monitorDb ?? ""}
          options={["", ...MONITOR_LEVELS]}
          words={(level) => (level === "" ? "no" : `at ${formatDb(Number(level), { digits: 0 })} dB`)}
          onChange={(level) => recorder().monitorAt(level === "" ? null : Number(level))}
        />
      </Setting>
      {state.monitorDb !== null && (
        <p className="text-label text-soft">
          For headphones: a microphone hears loudspeakers, and what it hears would come back.
        </p>
      )}
      <div className="mt-2 flex gap-2">
        {state.status === "closed" || state.status === "opening" ? (
          <Button onClick={() => void recorder().arm(device, rate, channels)} disabled={state.status === "opening"}>
            Arm
          </Button>
        ) : (
          <Button onClick={() => void recorder().close()} disabled={busy}>
            Disarm
          </Button>
        )}
        {state.status !== "recording" ? (
          <Button kind="main" onClick={record} disabled={state.status !== "armed" || name.trim() === ""}>
            <Circle size={12} fill="currentColor" /> Record
          </Button>
        ) : (
          <Button kind="main" onClick={() => recorder().stop()}>
            <Square size={12} fill="currentColor" /> Stop
          </Button>
        )}
      </div>
      <InputLevel channels={channels} armed={state.status !== "closed" && state.status !== "opening"} />
      <p role="status" className="figure mt-2" data-testid="recording" data-status={state.status}>
        {formatClock(state.seconds)} · {formatBytes(state.sentBytes)} on the server
        {state.status === "finishing" && " · being finished"}
        {state.status === "closed" && " · not armed"}
      </p>
      {state.problem && <p className="mt-1 text-outside">{state.problem}</p>}
      <h3 className="mt-4 font-semibold">What it becomes</h3>
      <Setting label="name of the new item">
        <input
          aria-label="Name of the new item"
          value={name}
          maxLength={120}
          disabled={retake}
          onChange={(event) => setName(event.target.value)}
          className="h-6 w-44 rounded-[4px] border border-hair bg-sheet px-1.5 disabled:text-soft"
        />
      </Setting>
      <Setting label="stops">
        <Select label="When recording stops" value={stop} options={STOPS} onChange={setStop} />
      </Setting>
      {stop === "at the end of the selection" &&
        (retake ? (
          <>
            <Setting label="heard before it">
              <Select
                label="Heard before a retake"
                value={preRoll}
                options={PRE_ROLLS}
                words={(seconds) => `${seconds} s`}
                onChange={setPreRoll}
              />
            </Setting>
            <p className="text-label text-soft">
              A retake of {words(selection.start)} – {words(selection.end)},{" "}
              {formatTime(selection.end - selection.start, 2)}: the item is heard {preRoll} s before, then recorded
              over, to within one block of {BLOCK_MS} ms. It becomes an item of its own, named after the place.
            </p>
          </>
        ) : (
          <p className="text-label text-soft">Select the stretch that is to be spoken or played again.</p>
        ))}
      {stop === "at the next marker" && (
        <p className="text-label text-soft">The item is heard meanwhile; recording stops where its next marker lies.</p>
      )}
      <p className="mt-3 text-label text-soft" aria-live="polite">
        {state.status === "armed" && "The level should stay under −6 dBFS at the loudest."}
      </p>
    </>
  );
}

/** A block of the input at 48 kHz. */
const BLOCK_MS = 21;

/** Stops the recording when the item has come to where it is to stop. */
function useStopAt(recording: boolean, stop: (typeof STOPS)[number]): void {
  const { facts } = useCurrentItem();
  useEffect(() => {
    if (!recording || stop === "by hand" || !facts) return;
    const { item } = facts;
    const { selection } = useWorkspace.getState();
    const from = engine().position;
    const at =
      stop === "at the next marker"
        ? placeMarkers(item.markers, facts)
            .map(({ seconds }) => itemFrame(facts, seconds))
            .find((start) => start > from)
        : selection && itemFrame(facts, selection.end);
    if (!at) return;
    const timer = setInterval(() => {
      if (engine().position < at && engine().state.playing) return;
      clearInterval(timer);
      recorder().stop();
      engine().pause();
    }, 10);
    return () => clearInterval(timer);
  }, [recording, stop, facts]);
}

function useInputs(status: string): MediaDeviceInfo[] {
  const [inputs, setInputs] = useState<MediaDeviceInfo[]>([]);
  useEffect(() => {
    // Names are told once an input has been allowed.
    const media = navigator.mediaDevices as MediaDevices | undefined;
    void media
      ?.enumerateDevices()
      .then((all) =>
        setInputs(
          all.filter(({ kind, deviceId }) => kind === "audioinput" && deviceId !== "" && deviceId !== "default"),
        ),
      );
  }, [status]);
  return inputs;
}

const LOWEST_DB = -60;

/** Levels of the input, drawn by frames. */
function InputLevel({ channels, armed }: { channels: number; armed: boolean }) {
  const bars = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!armed) return;
    let frame = 0;
    const draw = () => {
      const { levels } = recorder();
      [...(bars.current?.children ?? [])].forEach((bar, c) => {
        const share = Math.max(0, Math.min(1, 1 - (levels[c] ?? -Infinity) / LOWEST_DB));
        (bar.firstElementChild as HTMLElement).style.width = `${share * 100}%`;
      });
      if (text.current) text.current.textContent = `${formatDb(Math.max(-Infinity, ...levels))} dBFS`;
      frame = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(frame);
  }, [armed]);
  return (
    <div className="mt-3 grid grid-cols-[1fr_84px] items-center gap-2">
      <div ref={bars} className="flex flex-col gap-1">
        {Array.from({ length: channels }, (_, channel) => (
          <div key={channel} className="h-2.5 bg-grid">
            <div className="h-full bg-ink" style={{ width: 0 }} />
          </div>
        ))}
      </div>
      <span ref={text} className="figure text-right text-label text-soft" data-testid="input-level">
        −∞ dBFS
      </span>
    </div>
  );
}
