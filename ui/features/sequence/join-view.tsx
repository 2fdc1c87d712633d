"use client";

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { dbToGain } from "@core/audio/decibel";
import { formatDb } from "@core/audio/format";
import { FADE_HELP, FADE_SHAPES, newFade, reshaped, type Fade } from "@core/programme/fade";
import { LEVEL_STEP_SECONDS, type JoinLevels } from "@core/programme/programme-levels";
import { placementOf, type PlacementChanges } from "@core/programme/placement";
import type { PlacedItem } from "@core/programme/timeline";
import type { Item } from "@core/project/document";
import { useCanvas } from "@ui/canvas/use-canvas";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";
import type { ItemWaveform } from "@ui/state/item-waveform";
import { useProgramme } from "@ui/state/programme";
import { RecordingOverview } from "@ui/state/recording-overview";
import { useItemWaveform } from "@ui/state/use-item-waveform";
import { useWorkspace } from "@ui/state/workspace-store";
import { drawJoin, joinRows, joinX, type JoinModel, type JoinSide } from "./draw-join";
import { JoinHandle } from "./join-handles";
import { NumberInput } from "@ui/design-system/number-input";
import { snappedGap } from "./snapped-gap";

/** The join in hand: both sides, with fades and pause to be dragged. */
export function JoinView() {
  const { join, items, order } = useProgramme();
  const { edit } = useCurrentItem();
  if (!join)
    return (
      <p className="grid h-full place-items-center text-label text-soft">
        {order.length < 2
          ? "With a second item there is a join to be looked at."
          : "The join is drawn once its levels are read."}
      </p>
    );
  const item = (id: string) => items.find((one) => one.id === id)!;
  const [outgoing, incoming] = [item(join.before.item), item(join.after.item)];
  const place = (target: Item, changes: PlacementChanges, what: string) =>
    void edit({ type: "placeItems", items: [{ item: target.id, changes }], what });
  return (
    <div className="flex h-full min-h-0 flex-col">
      <JoinHead join={join} outgoing={outgoing} incoming={incoming} place={place} />
      <JoinPicture
        key={`${outgoing.id} ${incoming.id}`}
        join={join}
        outgoing={outgoing}
        incoming={incoming}
        place={place}
      />
    </div>
  );
}

type Place = (target: Item, changes: PlacementChanges, what: string) => void;

interface SidesProps {
  join: JoinLevels;
  outgoing: Item;
  incoming: Item;
  place: Place;
}

const signed = (lufs: number | null) => (lufs === null ? "silent" : formatDb(lufs));

function JoinHead({ join, outgoing, incoming, place }: SidesProps) {
  const { order, timeline } = useProgramme();
  const number = (id: string) => order.findIndex((one) => one.id === id) + 1;
  const gap = join.after.gap / timeline!.sampleRate;
  return (
    <header className="flex shrink-0 items-center gap-2 overflow-hidden px-3 py-1 text-label">
      <h2 className="text-body font-semibold whitespace-nowrap">
        Join {number(outgoing.id)} → {number(incoming.id)}
      </h2>
      <span className="figure whitespace-nowrap text-act">
        {gap < 0 ? `overlap ${formatDb(-gap, { digits: 2 })} s` : `pause ${formatDb(gap, { digits: 2 })} s`}
      </span>
      <FadeFields item={outgoing} which="fadeOut" label="fade-out" place={place} />
      <FadeFields item={incoming} which="fadeIn" label="fade-in" place={place} />
      <span className="ml-auto flex items-center gap-2 whitespace-nowrap">
        {join.stopsAtLufs !== null && (
          <span
            className="text-close"
            title="A sound that ends above −60 LUFS with nothing after it is heard to stop: fade it out, lay room tone or a bed under the pause, or overlap."
          >
            ◆ heard to stop at {formatDb(join.stopsAtLufs)} LUFS
          </span>
        )}
        <span
          className="figure"
          data-testid="join-step"
          title="Short-term loudness of the 3 s before and after the join"
        >
          {signed(join.outgoingLufs)} → {signed(join.incomingLufs)} LUFS
          {join.stepLu !== null && `: ${formatDb(join.stepLu, { sign: true })} LU`}
        </span>
      </span>
    </header>
  );
}

const FADE_NONE = "none";

/** Length and shape of a fade, typed. */
function FadeFields({
  item,
  which,
  label,
  place,
}: {
  item: Item;
  which: "fadeIn" | "fadeOut";
  label: string;
  place: Place;
}) {
  const fade = placementOf(item)[which];
  const set = (next: Fade | null) =>
    place(item, { [which]: next }, next ? `${label} ${next.seconds.toFixed(2)} s, ${next.shape}` : `no ${label}`);
  return (
    <span className="flex shrink-0 items-center gap-1" title={fade ? FADE_HELP[fade.shape] : undefined}>
      <span className="text-soft">{label}</span>
      <Select
        label={`Shape of the ${label}`}
        value={fade?.shape ?? FADE_NONE}
        options={[FADE_NONE, ...FADE_SHAPES]}
        onChange={(shape) => {
          const chosen = FADE_SHAPES.find((one) => one === shape);
          set(chosen ? (fade ? reshaped(fade, chosen) : newFade(2, chosen)) : null);
        }}
      />
      {fade && (
        <span className="w-16">
          <NumberInput
            label={`Length of the ${label}`}
            value={fade.seconds}
            unit="s"
            onCommit={(seconds) => seconds > 0 && set({ ...fade, seconds: Math.min(600, seconds) })}
          />
        </span>
      )}
    </span>
  );
}

const numbered = (item: Item, order: readonly Item[]) =>
  `${order.findIndex(({ id }) => id === item.id) + 1}  ${item.name}`;

function sideOf(
  name: string,
  item: Item,
  placed: PlacedItem,
  middle: number,
  sampleRate: number,
  columns: Float32Array | null,
): JoinSide {
  const { fadeIn, fadeOut, gainDb } = placementOf(item);
  return {
    name,
    start: (placed.start - middle) / sampleRate,
    end: (placed.end - middle) / sampleRate,
    fadeIn,
    fadeOut,
    gain: dbToGain(gainDb),
    columns,
  };
}

function JoinPicture({ join, outgoing, incoming, place }: SidesProps) {
  const { timeline, levels, order } = useProgramme();
  const { joinRolls } = useWorkspace();
  const { sampleRate } = timeline!;
  // While the pause is dragged the picture stays where it was: only what moves moves.
  const [middle, setMiddle] = useState(join.after.start);
  const isDragged = useWorkspace((workspace) => workspace.pendingPlacements !== null);
  if (!isDragged && middle !== join.after.start) setMiddle(join.after.start);
  const redrawRef = useRef(() => {});
  const onArrival = useCallback(() => redrawRef.current(), []);
  const waveforms = [useItemWaveform(outgoing, onArrival), useItemWaveform(incoming, onArrival)] as const;
  const [size, setSize] = useState({ width: 0, height: 0 });
  const reach = useMemo(
    () => ({ before: Math.max(1, joinRolls.before), after: Math.max(1, joinRolls.after) }),
    [joinRolls],
  );

  const modelOf = (width: number, height: number): JoinModel => {
    const columnsOf = (waveform: ItemWaveform | null, placed: PlacedItem): Float32Array | null => {
      if (!waveform) return null;
      // Frames of the recording, which may have another rate than the programme.
      const perFrame = waveform.recording.header.sampleRate / sampleRate;
      const from = (middle - reach.before * sampleRate - placed.start) * perFrame;
      const perPixel = (((reach.before + reach.after) * sampleRate) / width) * perFrame;
      const before = Math.max(0, Math.ceil(-from / perPixel));
      const out = new Float32Array(width * 3).fill(NaN);
      if (before >= width) return out;
      const folded = RecordingOverview.folded(waveform.columns(from + before * perPixel, perPixel, width - before))[0]!;
      out.set(folded, before * 3);
      return out;
    };
    return {
      width,
      height,
      reach,
      outgoing: sideOf(
        numbered(outgoing, order),
        outgoing,
        join.before,
        middle,
        sampleRate,
        columnsOf(waveforms[0], join.before),
      ),
      incoming: sideOf(
        numbered(incoming, order),
        incoming,
        join.after,
        middle,
        sampleRate,
        columnsOf(waveforms[1], join.after),
      ),
      from: (join.from - middle) / sampleRate,
      to: (join.to - middle) / sampleRate,
      levels,
      shortTermFrom: 30 * LEVEL_STEP_SECONDS - middle / sampleRate,
    };
  };
  const latest = useRef(modelOf);
  useEffect(() => {
    latest.current = modelOf;
    redrawRef.current();
  });
  const draw = useCallback<Parameters<typeof useCanvas>[0]>((context, { width, height }, inks) => {
    setSize((now) => (now.width === width && now.height === height ? now : { width, height }));
    drawJoin(context, latest.current(Math.round(width), height), inks);
  }, []);
  const { ref, redraw } = useCanvas(draw);
  useEffect(() => {
    redrawRef.current = redraw;
  }, [redraw]);

  return (
    <div className="relative min-h-0 flex-1">
      <canvas
        ref={ref}
        role="img"
        aria-label={`The join of “${outgoing.name}” and “${incoming.name}”`}
        className="h-full w-full"
      />
      {size.width > 0 && (
        <Handles
          model={modelOf(Math.round(size.width), size.height)}
          join={join}
          outgoing={outgoing}
          incoming={incoming}
          place={place}
        />
      )}
    </div>
  );
}

interface HandlesProps extends SidesProps {
  model: JoinModel;
}

const clamped = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

function Handles({ model, outgoing, incoming, place }: HandlesProps) {
  const { nameOf } = useProgramme();
  const rows = joinRows(model.height);
  const secondsPerPixel = (model.reach.before + model.reach.after) / Math.max(1, model.width);
  // What stood there when the drag began.
  const began = useRef<{ gapSeconds: number; fadeIn: Fade | undefined; fadeOut: Fade | undefined } | null>(null);
  const start = () => {
    began.current ??= {
      gapSeconds: placementOf(incoming).gapSeconds,
      fadeIn: placementOf(incoming).fadeIn,
      fadeOut: placementOf(outgoing).fadeOut,
    };
    return began.current;
  };
  const cancel = () => {
    began.current = null;
    useWorkspace.setState({ pendingPlacements: null });
  };
  const pend = (target: Item, changes: PlacementChanges) =>
    useWorkspace.setState({ pendingPlacements: [{ item: target.id, changes }] });
  const commit = (what: (changes: PlacementChanges) => string) => {
    const [pending] = useWorkspace.getState().pendingPlacements ?? [];
    began.current = null;
    const target = [outgoing, incoming].find(({ id }) => id === pending?.item);
    if (pending && target) place(target, pending.changes, what(pending.changes));
    useWorkspace.setState({ pendingPlacements: null });
  };

  const gapTo = (seconds: number) => ({ gapSeconds: clamped(rounded(seconds), -600, 3600) });
  const gapWords = ({ gapSeconds = 0 }: PlacementChanges) =>
    gapSeconds < 0 ? `overlap ${(-gapSeconds).toFixed(2)} s` : `pause ${gapSeconds.toFixed(2)} s`;
  const lengthOf = (item: "outgoing" | "incoming") => model[item].end - model[item].start;
  const fadeOutOf = (base: Fade | undefined, bySeconds: number): Fade => {
    const fade = base ?? newFade(0.01);
    return {
      ...fade,
      seconds: clamped(
        rounded(fade.seconds - bySeconds),
        0.01,
        Math.min(600, lengthOf("outgoing") - fade.insetSeconds),
      ),
    };
  };
  const insetOf = (base: Fade | undefined, bySeconds: number): Fade => {
    const fade = base ?? newFade(0.01);
    return {
      ...fade,
      insetSeconds: clamped(
        rounded(fade.insetSeconds - bySeconds),
        0,
        Math.max(0, lengthOf("outgoing") - fade.seconds),
      ),
    };
  };
  const fadeInOf = (base: Fade | undefined, bySeconds: number): Fade => {
    const fade = base ?? newFade(0.01);
    return {
      ...fade,
      seconds: clamped(
        rounded(fade.seconds + bySeconds),
        0.01,
        Math.min(600, lengthOf("incoming") - fade.insetSeconds),
      ),
    };
  };
  const fadeOut = placementOf(outgoing).fadeOut;
  const fadeIn = placementOf(incoming).fadeIn;
  const outEnd = model.outgoing.end - (fadeOut?.insetSeconds ?? 0);
  const nextShape = (fade: Fade) =>
    reshaped(fade, FADE_SHAPES[(FADE_SHAPES.indexOf(fade.shape) + 1) % FADE_SHAPES.length]!);
  const x = (seconds: number) => joinX(seconds, model);
  const within = (at: number) => at > -4 && at < model.width + 4;
  const common = { secondsPerPixel, onCancel: cancel };
  return (
    <>
      {within(x(outEnd - (fadeOut?.seconds ?? 0))) && (
        <JoinHandle
          {...common}
          label={`Beginning of the fade-out of ${nameOf(outgoing.id)}`}
          x={x(outEnd - (fadeOut?.seconds ?? 0))}
          y={rows.outgoing.top + 6}
          onMove={(by) => pend(outgoing, { fadeOut: fadeOutOf(start().fadeOut, by) })}
          onCommit={() => commit(({ fadeOut: made }) => `fade-out ${made?.seconds.toFixed(2) ?? 0} s`)}
          onNudge={(by) => place(outgoing, { fadeOut: fadeOutOf(fadeOut, by) }, "fade-out")}
          onDoubleClick={
            fadeOut && (() => place(outgoing, { fadeOut: nextShape(fadeOut) }, `fade-out ${nextShape(fadeOut).shape}`))
          }
        />
      )}
      {fadeOut && within(x(outEnd)) && (
        <JoinHandle
          {...common}
          label={`End of the fade-out of ${nameOf(outgoing.id)}`}
          x={x(outEnd)}
          y={rows.outgoing.top + rows.outgoing.height - 4}
          onMove={(by) => pend(outgoing, { fadeOut: insetOf(start().fadeOut, by) })}
          onCommit={() =>
            commit(({ fadeOut: made }) => `fade-out ends ${made?.insetSeconds.toFixed(2) ?? 0} s before its end`)
          }
          onNudge={(by) => place(outgoing, { fadeOut: insetOf(fadeOut, by) }, "end of the fade-out")}
        />
      )}
      {within(x(model.incoming.start)) && (
        <JoinHandle
          {...common}
          label={`Beginning of ${nameOf(incoming.id)}: the pause`}
          x={x(model.incoming.start)}
          y={rows.incoming.top + rows.incoming.height - 4}
          onMove={(by, free) => {
            const wanted = start().gapSeconds + by;
            pend(incoming, gapTo(free ? wanted : snappedGap(wanted, secondsPerPixel, outgoing)));
          }}
          onCommit={() => commit(gapWords)}
          onNudge={(by) => {
            const changes = gapTo(placementOf(incoming).gapSeconds + by);
            place(incoming, changes, gapWords(changes));
          }}
        />
      )}
      {within(x(model.incoming.start + (fadeIn ? fadeIn.insetSeconds + fadeIn.seconds : 0))) && (
        <JoinHandle
          {...common}
          label={`End of the fade-in of ${nameOf(incoming.id)}`}
          x={x(model.incoming.start + (fadeIn ? fadeIn.insetSeconds + fadeIn.seconds : 0))}
          y={rows.incoming.top + 6}
          onMove={(by) => pend(incoming, { fadeIn: fadeInOf(start().fadeIn, by) })}
          onCommit={() => commit(({ fadeIn: made }) => `fade-in ${made?.seconds.toFixed(2) ?? 0} s`)}
          onNudge={(by) => place(incoming, { fadeIn: fadeInOf(fadeIn, by) }, "fade-in")}
          onDoubleClick={
            fadeIn && (() => place(incoming, { fadeIn: nextShape(fadeIn) }, `fade-in ${nextShape(fadeIn).shape}`))
          }
        />
      )}
    </>
  );
}
