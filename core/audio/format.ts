/** Numbers as people read them: a true minus sign, one decimal, −∞ for silence. */
export function formatDb(level: number | null, options: { sign?: boolean; digits?: number } = {}): string {
  if (level === null || level === -Infinity) return "−∞";
  if (!Number.isFinite(level)) return "—";
  const text = Math.abs(level).toFixed(options.digits ?? 1);
  if (Number(text) === 0) return text;
  return (level < 0 ? "−" : options.sign ? "+" : "") + text;
}

/** "1:04:09.250", "4:09.25", "0:03": as many decimals as asked for. */
export function formatTime(seconds: number, decimals = 0): string {
  const unit = 10 ** decimals;
  const ticks = Math.max(0, Math.round(seconds * unit));
  const whole = Math.floor(ticks / unit);
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor(whole / 60) % 60;
  const rest = String(whole % 60).padStart(2, "0");
  const head = hours > 0 ? `${hours}:${String(minutes).padStart(2, "0")}:${rest}` : `${minutes}:${rest}`;
  return decimals > 0 ? `${head}.${String(ticks % unit).padStart(decimals, "0")}` : head;
}

/** "00:04:09.250": of fixed width, for a clock that runs. */
export function formatClock(seconds: number): string {
  const ms = Math.max(0, Math.round(seconds * 1000));
  const two = (n: number) => String(Math.floor(n)).padStart(2, "0");
  return `${two(ms / 3_600_000)}:${two((ms / 60_000) % 60)}:${two((ms / 1000) % 60)}.${String(ms % 1000).padStart(3, "0")}`;
}

/** "48 kHz", "44.1 kHz". */
export const formatRate = (hertz: number): string => `${Number((hertz / 1000).toFixed(3))} kHz`;

/** "3.4 MB" (decimal, as files are sold). */
export function formatBytes(bytes: number): string {
  const units = ["bytes", "kB", "MB", "GB", "TB"];
  let size = bytes;
  let unit = 0;
  while (size >= 1000 && unit < units.length - 1) {
    size /= 1000;
    unit++;
  }
  return `${unit === 0 ? size : size.toFixed(size < 10 ? 1 : 0)} ${units[unit]}`;
}

/** "50 Hz", "3.15 kHz". */
export const formatHertz = (hertz: number): string =>
  hertz >= 1000 ? `${Number((hertz / 1000).toFixed(2))} kHz` : `${Number(hertz.toFixed(2))} Hz`;

/** A count with its noun: "1 point", "3 points". */
export const counted = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? "" : "s"}`;
