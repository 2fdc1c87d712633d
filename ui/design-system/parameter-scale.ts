import type { NumberParameter } from "@core/parameters/parameter";

const clamped = (setting: number, { min, max }: NumberParameter) => Math.max(min, Math.min(max, setting));

/** Rounded to the parameter's step, without the dust of binary fractions. */
function stepped(setting: number, parameter: NumberParameter, step = parameter.step): number {
  const digits = Math.max(0, -Math.floor(Math.log10(step)));
  return Number(clamped(Math.round(setting / step) * step, parameter).toFixed(digits));
}

/** Position on a track, 0…1. */
export function toTrack(setting: number, { min, max, scale }: NumberParameter): number {
  return scale === "log" ? Math.log(setting / min) / Math.log(max / min) : (setting - min) / (max - min);
}

export function fromTrack(position: number, parameter: NumberParameter): number {
  const { min, max, scale } = parameter;
  return stepped(scale === "log" ? min * (max / min) ** position : min + position * (max - min), parameter);
}

/** A step up or down: coarse is ten steps, fine a tenth of one. */
export function nudge(
  setting: number,
  parameter: NumberParameter,
  direction: 1 | -1,
  size: "coarse" | "step" | "fine",
): number {
  const step = parameter.step * { coarse: 10, step: 1, fine: 0.1 }[size];
  return stepped(setting + direction * step, parameter, size === "fine" ? step : parameter.step);
}

/** What a person types: "-1dB", "−1", "3k", "0.2 s" where ms are meant, "2:05". `null` when it is no number, or of another unit. */
export function parseTyped(text: string, parameter: NumberParameter): number | null {
  const plain = text.trim().replace("−", "-").replace(",", ".").toLowerCase();
  const clock = /^(\d+):(\d{1,2}(?:\.\d+)?)$/.exec(plain);
  if (clock) return clamped(Number(clock[1]) * 60 + Number(clock[2]), parameter);
  const match = /^([+-]?\d*\.?\d+)\s*([a-z]*)$/.exec(plain);
  if (!match) return null;
  const typed = Number(match[1]);
  const unit = match[2]!;
  if (unit === "s" && parameter.unit === "ms") return clamped(typed * 1000, parameter);
  if (unit === "ms" && parameter.unit === "s") return clamped(typed / 1000, parameter);
  const [factor, rest] = unit.startsWith("k") ? [1000, unit.slice(1)] : [1, unit];
  // Units may be begun only: "-1 d" is dB or dBTP, whichever is meant here. Others are a slip.
  return parameter.unit.toLowerCase().startsWith(rest) ? clamped(typed * factor, parameter) : null;
}

export function formatParameter(setting: number, parameter: NumberParameter): string {
  const digits = Math.max(0, -Math.floor(Math.log10(parameter.step)));
  const text = Math.abs(setting).toFixed(digits);
  const exact = Number(text) === Math.abs(setting) ? text : String(Math.abs(setting));
  return (setting < 0 && Number(exact) !== 0 ? "−" : "") + exact;
}
