"use client";

import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { biquadsOfBand, type EqualiserBand } from "@core/processors/equaliser";
import { fittedBands } from "@core/processors/fit-bands";
import { powerAt } from "@core/dsp/analogue-filter";
import { powerToDb } from "@core/audio/decibel";
import { formatHertz, formatDb } from "@core/audio/format";
import type { Decibels, Hertz } from "@core/audio/units";
import type { EntryEditing } from "./use-entry";
import { BandList, bandLetter, LEVELLED } from "./band-list";
import { curvePath, DRAWN, FrequencyPlot, type PlotScale } from "./frequency-plot";
import { ItemSpectrum, useItemSpectrum } from "./item-spectrum";

const FLAT: EqualiserBand = { shape: "bell", hertz: 1000, gainDb: 0, q: 1, slope: "12", on: true, sides: "all" };
/** The drawing reaches at least so far; more where a band does. */
const RANGES_DB = [6, 12, 24];
const WHEEL_STEP = 1.12;
const SEMITONE = 2 ** (1 / 12);
/** No more bands than a person can read are made for a drawn curve. */
const MOST_FITTED = 10;
/** From the ends of what is drawn to where the curve is as it was. */
const EDGE = 1.3;
const inside = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));

const responseDb = (bands: readonly EqualiserBand[], hertz: Hertz): Decibels =>
  powerToDb(bands.flatMap(biquadsOfBand).reduce((product, one) => product * powerAt(one, hertz), 1));

/** Bands that are dragged on their curve, over the spectrum before and after. */
export function EqualiserEditor({ inHand }: { inHand: EntryEditing }) {
  const bands = inHand.settings["bands"] as EqualiserBand[];
  const [chosen, setChosen] = useState(0);
  const [resting, setRest] = useState(12);
  const dragged = useRef<{ index: number; bands: EqualiserBand[] } | null>(null);
  const [drawing, setDrawing] = useState(false);
  /** Where the hand has been, by pixel, while it draws. */
  const [stroke, setStroke] = useState<ReadonlyMap<number, [Hertz, Decibels]> | null>(null);
  const spectrum = useItemSpectrum();
  const reach = Math.max(6, ...bands.map(({ gainDb }) => Math.abs(gainDb) + 1));
  const rangeDb = Math.max(resting, RANGES_DB.find((range) => range >= reach) ?? 24);

  const changed = (index: number, change: Partial<EqualiserBand>) =>
    bands.map((band, i) => (i === index ? { ...band, ...change } : band));
  const commit = (next: EqualiserBand[]) => void inHand.commit("bands", next);
  const add = (hertz: Hertz, gainDb: Decibels) => {
    if (bands.length >= 24) return;
    const band = {
      ...FLAT,
      hertz: Math.round(inside(hertz, 10, 22000)),
      gainDb: Number(inside(gainDb, -24, 24).toFixed(1)),
    };
    commit([...bands, band]);
    setChosen(bands.length);
  };
  const remove = (index: number) => {
    commit(bands.filter((_, i) => i !== index));
    setChosen(Math.max(0, index - 1));
  };
  const draw = (event: PointerEvent, scale: PlotScale) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = inside(event.clientX - box.left, 0, scale.width);
    const db = inside(scale.db(event.clientY - box.top), -rangeDb, rangeDb);
    setStroke((before) => new Map(before).set(Math.round(x), [scale.hertz(x), db]));
  };
  /** The sum becomes what was drawn, where it was; elsewhere it stays. */
  const fit = (drawn: ReadonlyMap<number, [Hertz, Decibels]>) => {
    const hand = [...drawn.values()].sort(([a], [b]) => a - b);
    const [low, high] = [hand[0]![0], hand.at(-1)![0]];
    const others = bands.filter(({ sides }) => sides !== "all");
    const own = bands.filter(({ sides }) => sides === "all");
    const around = DRAWN.filter((hertz) => hertz < low / EDGE || hertz > high * EDGE);
    const curve = [...hand, ...around.map((hertz) => [hertz, responseDb(own, hertz)] as const)];
    const fitted = fittedBands(
      curve.sort(([a], [b]) => a - b),
      Math.min(MOST_FITTED, 24 - others.length),
    );
    void inHand.commitAll({ bands: [...others, ...fitted] }, `${fitted.length} bands for a drawn curve`);
    setChosen(0);
  };
  const drag = (event: PointerEvent, scale: PlotScale) => {
    if (stroke) return draw(event, scale);
    const held = dragged.current;
    if (!held) return;
    const box = event.currentTarget.getBoundingClientRect();
    const hertz = inside(scale.hertz(event.clientX - box.left), 10, 22000);
    const gainDb = inside(scale.db(event.clientY - box.top), -24, 24);
    held.bands = changed(held.index, {
      hertz: Number(hertz.toPrecision(3)),
      ...(LEVELLED.includes(bands[held.index]!.shape) ? { gainDb: Number(gainDb.toFixed(1)) } : {}),
    });
    inHand.setPending("bands", held.bands);
  };
  const drop = () => {
    if (stroke && stroke.size > 1) fit(stroke);
    setStroke(null);
    if (dragged.current) commit(dragged.current.bands);
    dragged.current = null;
  };
  const onKey = (event: KeyboardEvent, index: number) => {
    const band = bands[index]!;
    const fine = event.shiftKey ? 0.1 : 0.5;
    const keys: Record<string, () => void> = {
      ArrowUp: () => commit(changed(index, { gainDb: Number(inside(band.gainDb + fine, -24, 24).toFixed(1)) })),
      ArrowDown: () => commit(changed(index, { gainDb: Number(inside(band.gainDb - fine, -24, 24).toFixed(1)) })),
      ArrowRight: () => commit(changed(index, { hertz: Math.round(inside(band.hertz * SEMITONE, 10, 22000)) })),
      ArrowLeft: () => commit(changed(index, { hertz: Math.round(inside(band.hertz / SEMITONE, 10, 22000)) })),
      Delete: () => remove(index),
    };
    const act = keys[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_232px]">
      <div className="flex min-h-0 flex-col border-r border-hair">
        <p className="flex justify-between px-2 pt-1 text-label text-soft">
          <span className="truncate">
            {drawing
              ? "draw the curve that you want: bands are fitted to it"
              : "before: grey ground · after: ink · double click adds a band"}
          </span>
          <span className="flex gap-1.5">
            <button
              type="button"
              aria-pressed={drawing}
              title="A curve drawn by hand becomes bands; undo of this processor takes it back"
              onClick={() => setDrawing(!drawing)}
              className={drawing ? "font-semibold text-act" : "text-act"}
            >
              draw
            </button>
            {RANGES_DB.map((range) => (
              <button
                key={range}
                type="button"
                aria-pressed={resting === range}
                onClick={() => setRest(range)}
                className={resting === range ? "text-act" : ""}
              >
                ±{range}
              </button>
            ))}
          </span>
        </p>
        <div className="min-h-0 flex-1">
          <FrequencyPlot
            label="Curve of the equaliser"
            rangeDb={rangeDb}
            {...(drawing
              ? {
                  onPointerDown: (event: PointerEvent, scale: PlotScale) => {
                    event.currentTarget.setPointerCapture(event.pointerId);
                    draw(event, scale);
                  },
                }
              : { onDoubleClick: add })}
            onPointerMove={drag}
            onPointerUp={drop}
            onWheel={(event) => {
              const band = bands[chosen];
              if (!band) return;
              const q = inside(band.q * (event.deltaY < 0 ? WHEEL_STEP : 1 / WHEEL_STEP), 0.1, 40);
              commit(changed(chosen, { q: Number(q.toFixed(2)) }));
            }}
          >
            {(scale) => (
              <>
                <ItemSpectrum scale={scale} spectrum={spectrum} response={(hertz) => responseDb(bands, hertz)} />
                {bands.map((band, index) => (
                  <path
                    key={index}
                    d={curvePath(
                      scale,
                      DRAWN.map((hertz) => [hertz, responseDb([band], hertz)] as const),
                    )}
                    fill="none"
                    stroke="var(--act)"
                    opacity={index === chosen ? 0.7 : 0.3}
                  />
                ))}
                <path
                  d={curvePath(
                    scale,
                    DRAWN.map((hertz) => [hertz, responseDb(bands, hertz)] as const),
                  )}
                  fill="none"
                  stroke="var(--act)"
                  strokeWidth={2}
                />
                {stroke && (
                  <path
                    d={curvePath(
                      scale,
                      [...stroke.values()].sort(([a], [b]) => a - b),
                    )}
                    fill="none"
                    stroke="var(--ink)"
                    strokeWidth={2}
                    strokeDasharray="5 3"
                  />
                )}
                {(drawing ? [] : bands).map((band, index) => (
                  <Handle
                    key={index}
                    scale={scale}
                    band={band}
                    name={bandLetter(index)}
                    chosen={index === chosen}
                    onTake={(event) => {
                      event.preventDefault();
                      event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
                      (event.currentTarget as SVGGElement).focus();
                      setChosen(index);
                      dragged.current = { index, bands };
                    }}
                    onFocus={() => setChosen(index)}
                    onKey={(event) => onKey(event, index)}
                  />
                ))}
              </>
            )}
          </FrequencyPlot>
        </div>
      </div>
      <BandList
        bands={bands}
        chosen={chosen}
        onChoose={setChosen}
        onChange={(index, change) => commit(changed(index, change))}
        onRemove={remove}
        onAdd={() => add(1000, 0)}
      />
    </div>
  );
}

function Handle({
  scale,
  band,
  name,
  chosen,
  onTake,
  onFocus,
  onKey,
}: {
  scale: PlotScale;
  band: EqualiserBand;
  name: string;
  chosen: boolean;
  onTake: (event: PointerEvent<SVGGElement>) => void;
  onFocus: () => void;
  onKey: (event: KeyboardEvent) => void;
}) {
  const [x, y] = [
    scale.x(Math.max(20, band.hertz)),
    inside(scale.y(LEVELLED.includes(band.shape) ? band.gainDb : 0), 8, scale.height - 8),
  ];
  return (
    <g
      tabIndex={0}
      role="button"
      aria-label={`Band ${name}: ${band.shape} at ${formatHertz(band.hertz)}, ${formatDb(band.gainDb, { sign: true })} dB; arrow keys move it`}
      onPointerDown={onTake}
      onDoubleClick={(event) => event.stopPropagation()}
      onFocus={onFocus}
      onKeyDown={onKey}
      transform={`translate(${x} ${y})`}
      className="cursor-grab outline-none focus-visible:[&>rect]:stroke-[3]"
      opacity={band.on ? 1 : 0.45}
    >
      <rect
        x={-8}
        y={-8}
        width={16}
        height={16}
        rx={2}
        fill={chosen ? "var(--act)" : "var(--sheet)"}
        stroke="var(--act)"
        strokeWidth={1.5}
      />
      <text textAnchor="middle" y={4} fontSize={11} fill={chosen ? "var(--on-act)" : "var(--act)"}>
        {name}
      </text>
    </g>
  );
}
