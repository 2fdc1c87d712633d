/** What can be dragged in the picture of a join, and what comes of it: the pause, lengths and ends of fades, drawn points. */
import { FADE_SHAPES, newFade, reshaped, type Fade } from "@core/programme/fade";
import { placementOf, type PlacementChanges } from "@core/programme/placement";
import type { Item } from "@core/project/document";
import { joinRows, joinX, type JoinModel, type Row } from "./draw-join";
import { snappedGap } from "./snapped-gap";

/** By how much a handle is dragged from where it was taken. */
export interface Drag {
  seconds: number;
  /** Amplitude, up; only of drawn points. */
  gain: number;
  /** Nothing snaps. */
  free: boolean;
}

export interface Handle {
  id: string;
  label: string;
  /** The item whose place it changes. */
  item: Item;
  /** Pixels of the picture. */
  x: number;
  y: number;
  moved: (drag: Drag) => PlacementChanges;
  /** In words, for the history. */
  words: (changes: PlacementChanges) => string;
  /** What a double click does. */
  toggled?: PlacementChanges;
  /** What Delete does. */
  removed?: PlacementChanges;
}

/** The shortest fade that a handle makes. */
const LEAST_FADE = 0.01;
const MOST_FADE = 600;
/** Drawn points stay so far apart, as parts of the fade. */
const APART = 0.005;

const clamped = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
const rounded = (value: number): number => Math.round(value * 1000) / 1000;

type Which = "fadeIn" | "fadeOut";
const NAMES = { fadeIn: "fade-in", fadeOut: "fade-out" } as const;

const gapWords = ({ gapSeconds = 0 }: PlacementChanges): string =>
  gapSeconds < 0 ? `overlap ${(-gapSeconds).toFixed(2)} s` : `pause ${gapSeconds.toFixed(2)} s`;

/** The same fade with the next shape. */
const nextShape = (fade: Fade): Fade =>
  reshaped(fade, FADE_SHAPES[(FADE_SHAPES.indexOf(fade.shape) + 1) % FADE_SHAPES.length]!);

/** A point more, where two lie furthest from each other; only of a drawn fade. */
export function withPoint(fade: Fade): Fade {
  const points = fade.points ?? [];
  let widest = 1;
  for (let i = 2; i < points.length; i++)
    if (points[i]![0] - points[i - 1]![0] > points[widest]![0] - points[widest - 1]![0]) widest = i;
  const [a, b] = [points[widest - 1], points[widest]];
  if (!a || !b) return fade;
  return { ...fade, points: points.toSpliced(widest, 0, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]) };
}

/** Handles of one fade: its full end, and each point that is drawn. */
function fadeHandles(which: Which, item: Item, name: string, model: JoinModel, row: Row): Handle[] {
  const side = which === "fadeIn" ? model.incoming : model.outgoing;
  const fade = placementOf(item)[which];
  const inset = fade?.insetSeconds ?? 0;
  const seconds = fade?.seconds ?? 0;
  // Time goes from silent to full in a fade-in, from full to silent in a fade-out.
  const direction = which === "fadeIn" ? 1 : -1;
  const silent = which === "fadeIn" ? side.start + inset : side.end - inset;
  const room = side.end - side.start;
  const base = fade ?? newFade(LEAST_FADE);
  const words = ({ [which]: made }: PlacementChanges) =>
    made ? `${NAMES[which]} ${made.seconds.toFixed(2)} s, ${made.shape}` : `no ${NAMES[which]}`;
  const whole: Handle = {
    id: `${which}-full`,
    label: `${which === "fadeIn" ? "End" : "Beginning"} of the ${NAMES[which]} of ${name}`,
    item,
    x: joinX(silent + direction * seconds, model),
    y: row.top + 6,
    moved: (drag) => ({
      [which]: {
        ...base,
        seconds: clamped(rounded(seconds + direction * drag.seconds), LEAST_FADE, Math.min(MOST_FADE, room - inset)),
      },
    }),
    words,
    ...(fade ? { toggled: { [which]: nextShape(fade) }, removed: { [which]: null } } : {}),
  };
  const drawn = (fade?.points ?? []).flatMap((point, i, points): Handle[] => {
    const [before, after] = [points[i - 1], points[i + 1]];
    if (!before || !after) return [];
    return [
      {
        id: `${which}-point-${i}`,
        label: `Point ${i} of the drawn ${NAMES[which]} of ${name}`,
        item,
        x: joinX(silent + direction * seconds * point[0], model),
        y: row.top + row.height * (1 - point[1]),
        moved: (drag) => {
          const at = clamped(point[0] + (direction * drag.seconds) / seconds, before[0] + APART, after[0] - APART);
          const gain = clamped(rounded(point[1] + drag.gain), 0, 1);
          return { [which]: { ...base, points: points.with(i, [at, gain]) } };
        },
        words: () => `a point of the ${NAMES[which]}`,
        removed: { [which]: { ...base, points: points.toSpliced(i, 1) } },
      },
    ];
  });
  return [whole, ...drawn];
}

/** All handles of a join that lie in its picture. */
export function joinHandles(model: JoinModel, outgoing: Item, incoming: Item): Handle[] {
  const rows = joinRows(model.height);
  const secondsPerPixel = (model.reach.before + model.reach.after) / Math.max(1, model.width);
  const { gapSeconds } = placementOf(incoming);
  const { fadeOut } = placementOf(outgoing);
  const gap: Handle = {
    id: "gap",
    label: `Beginning of ${incoming.name}: the pause`,
    item: incoming,
    x: joinX(model.incoming.start, model),
    y: rows.incoming.top + rows.incoming.height - 4,
    moved({ seconds, free }) {
      const wanted = gapSeconds + seconds;
      const meant = free ? wanted : snappedGap(wanted, secondsPerPixel, outgoing);
      return { gapSeconds: clamped(rounded(meant), -600, 3600) };
    },
    words: gapWords,
  };
  const inset: Handle[] = fadeOut
    ? [
        {
          id: "fadeOut-end",
          label: `End of the fade-out of ${outgoing.name}`,
          item: outgoing,
          x: joinX(model.outgoing.end - fadeOut.insetSeconds, model),
          y: rows.outgoing.top + rows.outgoing.height - 4,
          moved: ({ seconds }) => ({
            fadeOut: {
              ...fadeOut,
              insetSeconds: clamped(
                rounded(fadeOut.insetSeconds - seconds),
                0,
                Math.max(0, model.outgoing.end - model.outgoing.start - fadeOut.seconds),
              ),
            },
          }),
          words: ({ fadeOut: made }) => `fade-out ends ${made?.insetSeconds.toFixed(2) ?? 0} s before the end`,
        },
      ]
    : [];
  return [
    ...fadeHandles("fadeOut", outgoing, outgoing.name, model, rows.outgoing),
    ...inset,
    gap,
    ...fadeHandles("fadeIn", incoming, incoming.name, model, rows.incoming),
  ].filter(({ x }) => x > -4 && x < model.width + 4);
}
