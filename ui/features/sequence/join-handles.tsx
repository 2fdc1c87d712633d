"use client";

import { useRef } from "react";
import { FADE_SHAPES, newFade, reshaped, type Fade } from "@core/programme/fade";
import { placementOf, type PlacementChanges } from "@core/programme/placement";
import type { Item } from "@core/project/document";
import { useWholeProgramme } from "@ui/state/programme";
import { useWorkspace } from "@ui/state/workspace-store";
import { joinRows, joinX, type JoinModel } from "./draw-join";
import { JoinHandle } from "./join-handle";
import { snappedGap } from "./snapped-gap";

interface Props {
  model: JoinModel;
  outgoing: Item;
  incoming: Item;
  /** Keeps a place; `what` says in words what was done. */
  place: (target: Item, changes: PlacementChanges, what: string) => void;
}

const clamped = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
const rounded = (seconds: number): number => Math.round(seconds * 1000) / 1000;

/** Squares over the picture of a join: its pause, and the lengths and ends of its fades. */
export function JoinHandles({ model, outgoing, incoming, place }: Props) {
  const { nameOf } = useWholeProgramme();
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
