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
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";
import type { ItemWaveform } from "@ui/state/item-waveform";
import { useWholeProgramme } from "@ui/state/programme";
import { RecordingOverview } from "@ui/state/recording-overview";
import { useItemWaveform } from "@ui/state/use-item-waveform";
import { useWorkspace } from "@ui/state/workspace-store";
import { drawJoin, type JoinModel, type JoinSide } from "./draw-join";
import { withPoint } from "./join-handles";
import { JoinHandles } from "./join-handles-overlay";
import { NumberInput } from "@ui/design-system/number-input";

/** The join in hand: both sides, with fades and pause to be dragged. */
export function JoinView() {
  const { join, items, order } = useWholeProgramme();
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
  const { order, timeline } = useWholeProgramme();
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
      {fade?.shape === "drawn" && (
        <Button
          className="h-6 px-1.5"
          onClick={() => set(withPoint(fade))}
          hint="One more point: drag it in the picture, or move it by arrow keys; Delete takes it away"
        >
          + point
        </Button>
      )}
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
  const { timeline, levels, order } = useWholeProgramme();
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
        <JoinHandles
          model={modelOf(Math.round(size.width), size.height)}
          outgoing={outgoing}
          incoming={incoming}
          place={place}
        />
      )}
    </div>
  );
}
