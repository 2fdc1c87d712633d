/**
 * A processor whose settings move over time along lines. At frames of the item that are whole multiples of a grid the
 * settings are read off the lines; between two of them the sounds of both are faded from one to the other, each made
 * by a processor that went on from what the one before remembered. So there are no steps, and the same samples come
 * out live and in a render, wherever reading begins.
 */
import type { StreamFormat } from "../audio/stream-format";
import { emptyPlanar, slicePlanar, type Frames, type Planar } from "../audio/units";
import type { Parameters, Breakpoint, Row, Setting, SettingsOf } from "../parameters/parameter";
import { envelopeAt } from "../parameters/breakpoints";
import type { Processor } from "./processor";

/** Some 11 ms at 48 kHz. */
const GRID: Frames = 512;
/** So many nodes before it is heard a processor is made: what its new settings set ringing has died away by then. */
const AHEAD = 4;
/** Settings that move are never exactly 0: what does nothing is left out, and could not go on from what does something. */
const NEARLY_NOTHING = 1e-6;

/** Lines of settings by name; those of rows as "bands.2.gainDb". Points are seconds of the item and values. */
export type AutomationEnvelopes = Record<string, readonly Breakpoint[]>;

/** The parameter that a line moves, or nothing where there is none of that name. */
export function automatedParameter(parameters: Parameters, name: string) {
  const [list, index, column] = name.split(".");
  const found = parameters[list ?? ""];
  if (found?.kind === "number" && index === undefined) return found;
  if (found?.kind !== "rows" || column === undefined) return undefined;
  const one = found.columns[column];
  return one?.kind === "number" ? one : undefined;
}

/** The settings at a time. */
export function settingsAt(
  settings: SettingsOf<Parameters>,
  parameters: Parameters,
  lines: AutomationEnvelopes,
  seconds: number,
): SettingsOf<Parameters> {
  const moved: Record<string, Setting> = { ...settings };
  for (const [name, line] of Object.entries(lines)) {
    const parameter = automatedParameter(parameters, name);
    if (!parameter || line.length === 0) continue;
    const inside = Math.max(parameter.min, Math.min(parameter.max, envelopeAt(line, seconds)));
    const value = inside === 0 ? NEARLY_NOTHING : inside;
    const [list, index, column] = name.split(".");
    if (column === undefined) moved[name] = value;
    else
      moved[list!] = (moved[list!] as readonly Row[]).map((row, i) =>
        i === Number(index) ? { ...row, [column]: value } : row,
      );
  }
  return moved;
}

/** @param create makes the processor for settings; its latency does not depend on those that move */
export function automatedProcessor(
  create: (settings: SettingsOf<Parameters>) => Processor,
  at: (seconds: number) => SettingsOf<Parameters>,
  { sampleRate }: StreamFormat,
  start: Frames,
): Processor {
  const made = (node: Frames): Processor => create(at(node / sampleRate));
  let frame = start;
  let node = Math.floor(start / GRID) * GRID;
  /** Those of this node, the next, and the ones behind that, which run along unheard until their turn comes. */
  const working = Array.from({ length: 2 + AHEAD }, (_, n) => made(node + n * GRID));
  let spare: Planar[] = [];
  const { latency } = working[0]!;
  return {
    latency,
    process(block, frames, key) {
      for (let from = 0; from < frames;) {
        const count = Math.min(frames - from, node + GRID - frame);
        const part = slicePlanar(block, from, from + count);
        const heard = key && slicePlanar(key, from, from + count);
        if (spare[0]?.[0]?.length !== count) spare = working.slice(1).map(() => emptyPlanar(part.length, count));
        for (const copy of spare) part.forEach((x, c) => copy[c]!.set(x));
        working.forEach((processor, n) => processor.process(n === 0 ? part : spare[n - 1]!, count, heard));
        fade(part, spare[0]!, (frame - node) / GRID);
        frame += count;
        from += count;
        if (frame === node + GRID) goOn();
      }
    },
    ...(working[0]!.takeGainReduction
      ? {
          takeGainReduction() {
            const [now, next] = working.slice(0, 2).map((processor) => processor.takeGainReduction!());
            return now!.map((reduction, part) => Math.max(reduction, next![part]!));
          },
        }
      : {}),
  };

  function goOn(): void {
    node += GRID;
    working.shift();
    const last = working.at(-1)!;
    const next = made(node + (1 + AHEAD) * GRID);
    next.state?.forEach((part, i) => {
      const before = last.state?.[i];
      if (before) part.copyFrom(before);
    });
    working.push(next);
  }
}

/** From `x` to `y`, `share` of the way at the first frame. Hot. */
function fade(x: Planar, y: Planar, share: number): void {
  x.forEach((own, c) => {
    const other = y[c]!;
    for (let i = 0; i < own.length; i++) own[i] = own[i]! + (share + i / GRID) * (other[i]! - own[i]!);
  });
}
