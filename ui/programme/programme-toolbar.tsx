"use client";

import {
  ArrowDown,
  ArrowUp,
  Bookmark,
  Grid3x3,
  Layers,
  Magnet,
  Square,
  Spline,
  MoveHorizontal,
  Timer,
} from "lucide-react";
import { Popover, ToggleGroup } from "radix-ui";
import { useEffect, useState, type ReactNode, type RefObject } from "react";
import type { Curve } from "@core/measure/measurement";
import { FREQUENCY_SCALES } from "@core/pictures/rows";
import { formatDb } from "@core/signal/format";
import { TIME_FORMATS, type TimeFormat } from "@core/signal/timecode";
import { SELECT_TOOLS, useDesk, type SelectTool } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { Hint } from "@ui/shared/hint";
import { IconButton } from "@ui/shared/icon-button";
import { hertzWords } from "./region";
import { LANE_WORDS, moveLane, setPicture, switchLane, useLanes, type LaneId } from "./lane-settings";
import { axisOf } from "./lanes";
import { hertzOfY } from "./draw-picture";
import { PALETTE_NAMES } from "./scales";
import { TempoFields } from "./tempo-fields";
import { secondsAt, windowNow } from "./time-window";
import { useTimeWords } from "./use-time";

const TOOLS: Record<SelectTool, { icon: ReactNode; hint: string }> = {
  time: { icon: <MoveHorizontal size={13} />, hint: "A drag selects in time" },
  box: { icon: <Square size={13} />, hint: "A drag over a spectrogram selects in time and frequency" },
  freehand: { icon: <Spline size={13} />, hint: "A drag over a spectrogram draws the outline of what is selected" },
};

/** Which lanes, how time is told, what a drag selects and snaps to; at the right, what lies under the pointer. */
export function ProgrammeToolbar({ facts, surface }: { facts: ItemFacts; surface: RefObject<HTMLDivElement | null> }) {
  const tool = useDesk((desk) => desk.tool);
  const oneChannel = useDesk((desk) => desk.oneChannel);
  const channels = facts.source.layout?.speakers.length ?? 1;
  return (
    <div
      className="flex h-7 shrink-0 items-center gap-1 border-b border-hair bg-sheet px-1 text-label"
      role="toolbar"
      aria-label="Programme view"
    >
      <Menu label="Lanes" icon={<Layers size={13} />} hint="Which lanes are drawn, and how" wide>
        <LaneMenu facts={facts} />
      </Menu>
      <Menu label="Time" icon={<Timer size={13} />} hint="How times are told">
        <TimeMenu facts={facts} />
      </Menu>
      <Menu label="Snap" icon={<Magnet size={13} />} hint="What edges are drawn to">
        <SnapMenu />
      </Menu>
      <ToggleGroup.Root
        type="single"
        value={tool}
        aria-label="What a drag selects"
        onValueChange={(next) => next && useDesk.setState({ tool: next as SelectTool })}
        className="ml-1 flex overflow-hidden rounded-[4px] border border-hair"
      >
        {SELECT_TOOLS.map((one) => (
          <Hint key={one} text={TOOLS[one].hint} shortcut="B">
            <ToggleGroup.Item
              value={one}
              aria-label={TOOLS[one].hint}
              className={`flex h-5.5 items-center gap-1 px-1.5 ${one === tool ? "bg-act-ground text-act" : "text-soft"}`}
            >
              {TOOLS[one].icon} {one}
            </ToggleGroup.Item>
          </Hint>
        ))}
      </ToggleGroup.Root>
      {channels > 1 && (
        <Hint text="A drag in the waveform selects only the channel that it begins in">
          <button
            type="button"
            aria-pressed={oneChannel}
            onClick={() => useDesk.setState({ oneChannel: !oneChannel })}
            className={`h-5.5 rounded-[4px] border px-1.5 ${oneChannel ? "border-act bg-act-ground text-act" : "border-hair text-soft"}`}
          >
            one channel
          </button>
        </Hint>
      )}
      <Hint text="The list of markers" shortcut="K">
        <button
          type="button"
          onClick={() => useDesk.setState({ dialog: "markers" })}
          className="flex h-5.5 items-center gap-1 rounded-[4px] px-1.5 text-act hover:bg-act-ground"
        >
          <Bookmark size={13} /> {facts.item.markers.length === 1 ? "1 marker" : `${facts.item.markers.length} markers`}
        </button>
      </Hint>
      <Reading facts={facts} surface={surface} />
    </div>
  );
}

function Menu({
  label,
  icon,
  hint,
  wide,
  children,
}: {
  label: string;
  icon: ReactNode;
  hint: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Popover.Root>
      <Hint text={hint}>
        <Popover.Trigger className="flex h-5.5 items-center gap-1 rounded-[4px] px-1.5 text-act hover:bg-act-ground data-[state=open]:bg-act-ground">
          {icon} {label}
        </Popover.Trigger>
      </Hint>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          className={`z-50 max-h-[70vh] overflow-y-auto rounded-[4px] border border-hair bg-sheet p-3 ${wide ? "w-[560px]" : "w-72"}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** A setting with its words. */
export function Setting({ words, children }: { words: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[1fr_auto] items-center gap-2 py-0.5 text-label">
      <span className="text-soft">{words}</span>
      {children}
    </label>
  );
}

export function Choice<Value extends string | number>({
  label,
  value,
  of,
  words = String,
  onChoose,
}: {
  label: string;
  value: Value;
  of: readonly Value[];
  words?: (value: Value) => string;
  onChoose: (value: Value) => void;
}) {
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => onChoose(of.find((one) => String(one) === event.target.value)!)}
      className="h-6 rounded-[4px] border border-hair bg-sheet px-1 text-label"
    >
      {of.map((one) => (
        <option key={one} value={one}>
          {words(one)}
        </option>
      ))}
    </select>
  );
}

export function Tick({ words, on, onChange }: { words: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <Setting words={words}>
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} className="accent-act" />
    </Setting>
  );
}

function Slider({
  label,
  value,
  min,
  max,
  step,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  onChange: (value: number) => void;
}) {
  return (
    <input
      type="range"
      aria-label={label}
      min={min}
      max={max}
      step={step}
      value={value}
      onChange={(event) => onChange(Number(event.target.value))}
      className="w-28 accent-act"
    />
  );
}

function LaneMenu({ facts }: { facts: ItemFacts }) {
  const speakers = facts.source.layout?.speakers ?? [];
  const settings = useLanes();
  const { lanes, picture } = settings;
  return (
    <div className="grid grid-cols-[1fr_1fr] gap-4">
      <section>
        <h2 className="mb-1 font-semibold">Lanes, from above</h2>
        <ul>
          {lanes.map(({ id, on }, index) => (
            <li key={id} className="flex items-center gap-1">
              <label className="flex min-w-0 flex-1 items-center gap-1.5" title={LANE_WORDS[id].help}>
                <input type="checkbox" checked={on} onChange={() => switchLane(id)} className="accent-act" />
                {LANE_WORDS[id].name}
              </label>
              <IconButton
                label={`${LANE_WORDS[id].name} further up`}
                disabled={index === 0}
                onClick={() => moveLane(id, -1)}
              >
                <ArrowUp size={12} />
              </IconButton>
              <IconButton
                label={`${LANE_WORDS[id].name} further down`}
                disabled={index === lanes.length - 1}
                onClick={() => moveLane(id, 1)}
              >
                <ArrowDown size={12} />
              </IconButton>
            </li>
          ))}
        </ul>
        <h2 className="mt-2 mb-1 font-semibold">Waveform</h2>
        <Tick
          words="all channels in one row"
          on={settings.folded}
          onChange={(folded) => useLanes.setState({ folded })}
        />
        <Setting words="ruler">
          <Choice
            label="Ruler of the waveform"
            value={settings.ruler}
            of={["db", "linear"] as const}
            words={(ruler) => (ruler === "db" ? "dBFS" : "linear")}
            onChoose={(ruler) => useLanes.setState({ ruler })}
          />
        </Setting>
        <Setting words="RMS body over the peaks">
          <Slider
            label="Opacity of the RMS body"
            value={settings.body}
            min={0}
            max={1}
            step={0.05}
            onChange={(body) => useLanes.setState({ body })}
          />
        </Setting>
        <Setting words="waveform over the spectrogram">
          <Slider
            label="Opacity of the waveform over the spectrogram"
            value={settings.overlay}
            min={0}
            max={1}
            step={0.05}
            onChange={(overlay) => useLanes.setState({ overlay })}
          />
        </Setting>
      </section>
      <section>
        <h2 className="mb-1 font-semibold">Spectrogram and constant Q</h2>
        <Setting words="drawn">
          <Choice
            label="Kind of spectrogram"
            value={picture.kind}
            of={["spectrogram", "reassigned"] as const}
            words={(kind) => (kind === "reassigned" ? "reassigned (sharper, slower)" : "as it is")}
            onChoose={(kind) => setPicture({ kind })}
          />
        </Setting>
        {speakers.length > 1 && (
          <Setting words="of">
            <Choice
              label="Channel of the spectrogram"
              value={picture.channel === null || picture.channel >= speakers.length ? -1 : picture.channel}
              of={[-1, ...speakers.keys()]}
              words={(channel) => (channel < 0 ? "all channels" : speakers[channel]!.label)}
              onChoose={(channel) => setPicture({ channel: channel < 0 ? null : channel })}
            />
          </Setting>
        )}
        <Setting words="window">
          <Choice
            label="Window of the spectrogram"
            value={picture.points}
            of={[256, 512, 1024, 2048, 4096, 8192, 16_384]}
            words={(points) => `${points} samples`}
            onChoose={(points) => setPicture({ points })}
          />
        </Setting>
        <Setting words="overlap, when close">
          <Choice
            label="Overlap of the windows"
            value={picture.overlap}
            of={[2, 4, 8, 16] as const}
            words={(overlap) => `${(100 * (1 - 1 / overlap)).toFixed(overlap > 8 ? 2 : overlap > 4 ? 1 : 0)} %`}
            onChoose={(overlap) => setPicture({ overlap })}
          />
        </Setting>
        <Setting words="frequencies">
          <Choice
            label="Frequency scale"
            value={picture.scale}
            of={FREQUENCY_SCALES}
            onChoose={(scale) => setPicture({ scale })}
          />
        </Setting>
        <Setting words={`from ${hertzWords(picture.lowHertz)}`}>
          <Slider
            label="Lowest frequency, octaves above 20 Hz"
            value={Math.log2(picture.lowHertz / 20)}
            min={0}
            max={8}
            step={0.1}
            onChange={(octaves) => setPicture({ lowHertz: Math.min(20 * 2 ** octaves, picture.highHertz / 1.2) })}
          />
        </Setting>
        <Setting words={`to ${hertzWords(picture.highHertz)}`}>
          <Slider
            label="Highest frequency, octaves above 20 Hz"
            value={Math.log2(picture.highHertz / 20)}
            min={1}
            max={13.2}
            step={0.1}
            onChange={(octaves) => setPicture({ highHertz: Math.max(20 * 2 ** octaves, picture.lowHertz * 1.2) })}
          />
        </Setting>
        <Setting words={`darkest ${formatDb(picture.lowDb, { digits: 0 })} dBFS`}>
          <Slider
            label="Level of the darkest, dBFS"
            value={picture.lowDb}
            min={-150}
            max={-40}
            step={1}
            onChange={(lowDb) => setPicture({ lowDb: Math.min(lowDb, picture.highDb - 6) })}
          />
        </Setting>
        <Setting words={`lightest ${formatDb(picture.highDb, { digits: 0 })} dBFS`}>
          <Slider
            label="Level of the lightest, dBFS"
            value={picture.highDb}
            min={-100}
            max={0}
            step={1}
            onChange={(highDb) => setPicture({ highDb: Math.max(highDb, picture.lowDb + 6) })}
          />
        </Setting>
        <Setting words="colours">
          <Choice
            label="Colours of the spectrogram"
            value={picture.palette}
            of={PALETTE_NAMES}
            onChoose={(palette) => setPicture({ palette })}
          />
        </Setting>
        <p className="mt-1 text-label text-soft">Alt and wheel over a picture: its frequencies around the pointer.</p>
      </section>
    </div>
  );
}

const FORMAT_WORDS: Partial<Record<TimeFormat, string>> = {
  clock: "hours : minutes : seconds",
  bars: "bars and beats",
};

function TimeMenu({ facts }: { facts: ItemFacts }) {
  const { timeFormat, showGrid } = useLanes();
  return (
    <>
      <Setting words="times are told in">
        <Choice
          label="Format of times"
          value={timeFormat}
          of={TIME_FORMATS as readonly TimeFormat[]}
          words={(format) => FORMAT_WORDS[format] ?? (/^\d/.test(format) ? `timecode ${format}` : format)}
          onChoose={(format) => useLanes.setState({ timeFormat: format })}
        />
      </Setting>
      <Tick
        words="lines of the ruler through all lanes"
        on={showGrid}
        onChange={(on) => useLanes.setState({ showGrid: on })}
      />
      <TempoFields facts={facts} />
    </>
  );
}

function SnapMenu() {
  const { snap, quantised } = useLanes();
  const set = (change: Partial<typeof snap>) => useLanes.setState({ snap: { ...snap, ...change } });
  return (
    <>
      <h2 className="mb-1 flex items-center gap-1 font-semibold">
        <Grid3x3 size={13} /> Edges are drawn to
      </h2>
      <Tick words="markers and playhead" on={snap.markers} onChange={(markers) => set({ markers })} />
      <Tick words="lines of the ruler" on={snap.grid} onChange={(grid) => set({ grid })} />
      <Tick words="zero crossings, after the drag" on={snap.zero} onChange={(zero) => set({ zero })} />
      <Tick
        words="selections always begin and end on the ruler’s lines"
        on={quantised}
        onChange={(on) => useLanes.setState({ quantised: on })}
      />
      <p className="mt-1 text-label text-soft">Alt while dragging: no snapping.</p>
    </>
  );
}

/** Time, loudness and peak under the pointer; frequency over a picture. */
function Reading({ facts, surface }: { facts: ItemFacts; surface: RefObject<HTMLDivElement | null> }) {
  const [pointer, setPointer] = useState<{ seconds: number; hertz: number | null } | null>(null);
  const words = useTimeWords(facts);
  const { duration, sampleRate } = facts;
  const { spec } = useInHand();
  useEffect(() => {
    const element = surface.current;
    if (!element) return;
    const move = (event: PointerEvent) => {
      const { left, width } = element.getBoundingClientRect();
      const lane = (event.target as Element).closest<HTMLElement>("[data-lane]");
      const axis = lane && axisOf(lane.dataset.lane as LaneId, useLanes.getState().picture, sampleRate);
      const box = lane?.getBoundingClientRect();
      setPointer({
        seconds: secondsAt(event.clientX - left, windowNow(duration), width),
        hertz: axis && box ? hertzOfY(event.clientY - box.top, axis, box.height) : null,
      });
    };
    const leave = () => setPointer(null);
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerleave", leave);
    return () => {
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerleave", leave);
    };
  }, [surface, duration, sampleRate]);
  if (!pointer || pointer.seconds < 0 || pointer.seconds > duration)
    return <p className="ml-auto pr-1 text-soft">{spec ? `against ${spec.name}` : ""}</p>;
  const { shortTermLufs, samplePeakDbfs } = facts.curves;
  const at = (curve: Curve) => curve.values[Math.floor(pointer.seconds / curve.hopSeconds)] ?? -Infinity;
  const view = windowNow(duration);
  return (
    <p className="figure ml-auto truncate pr-1 text-soft" data-testid="reading">
      {words(pointer.seconds, view.end - view.start < 2 ? 4 : 2)} · S {formatDb(at(shortTermLufs))} LUFS · peak{" "}
      {formatDb(at(samplePeakDbfs))} dBFS{pointer.hertz === null ? "" : ` · ${hertzWords(pointer.hertz)}`}
    </p>
  );
}
