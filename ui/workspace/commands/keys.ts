/** Keys of commands: in words, as they are pressed, and as a person changed them. */
import * as z from "zod";
import { create } from "zustand";
import { persist } from "zustand/middleware";

const KEY_WORDS: Record<string, string> = {
  mod: "Ctrl",
  shift: "Shift",
  space: "Space",
  arrowleft: "←",
  arrowright: "→",
  arrowup: "↑",
  arrowdown: "↓",
  home: "Home",
  end: "End",
  equal: "+",
  minus: "−",
  comma: ",",
  period: ".",
  slash: "/",
  bracketleft: "[",
  bracketright: "]",
  escape: "Esc",
};

/** A key in words: "mod+shift+z" is "Ctrl Shift Z". */
export const keyWords = (keys: string): string =>
  keys
    .split("+")
    .map((key) => KEY_WORDS[key] ?? key.toUpperCase())
    .join(" ");

interface Pressed {
  keys?: readonly string[] | undefined;
  shift?: boolean | undefined;
  mod?: boolean | undefined;
}

export function sameKeys(keys: string, pressed: Pressed): boolean {
  const parts = keys.split("+");
  const main = parts.filter((part) => part !== "shift" && part !== "mod").join("+");
  return (
    pressed.keys?.join("+") === main &&
    Boolean(pressed.shift) === parts.includes("shift") &&
    Boolean(pressed.mod) === parts.includes("mod")
  );
}

/** What was pressed, as keys are written here; `null` for a modifier alone and what cannot be a key. */
export function keysOfEvent(
  event: Pick<KeyboardEvent, "code" | "shiftKey" | "ctrlKey" | "metaKey" | "altKey">,
): string | null {
  if (event.altKey || /^(Shift|Control|Alt|Meta|CapsLock|Tab|Dead)/.test(event.code) || event.code === "") return null;
  const main = event.code.replace(/^(Key|Digit|Numpad)/, "").toLowerCase();
  return [...(event.ctrlKey || event.metaKey ? ["mod"] : []), ...(event.shiftKey ? ["shift"] : []), main].join("+");
}

/** Keys that browsers keep for themselves. */
const TAKEN = new Set([
  "mod+t",
  "mod+n",
  "mod+w",
  "mod+r",
  "mod+shift+t",
  "mod+shift+n",
  "mod+shift+w",
  "f5",
  "f11",
  "f12",
]);
export const isTaken = (keys: string): boolean => TAKEN.has(keys) || /^mod\+\d$/.test(keys);

const ownKeysSchema = z.record(z.string().max(80), z.string().max(40));
type OwnKeys = z.infer<typeof ownKeysSchema>;

/** Keys that a person gave to commands, by their ids; "" takes a key away. */
export const useOwnKeys = create<{ own: OwnKeys }>()(
  persist(() => ({ own: {} as OwnKeys }), { name: "resonum-keys", version: 1 }),
);

/** The key of a command as it is now. */
export const keysNow = ({ id, keys }: { id: string; keys?: string | undefined }, own: OwnKeys): string | undefined =>
  (own[id] ?? keys) || undefined;

/** Gives a key to a command, and takes it from the one that had it. */
export function assignKeys(
  commands: readonly { id: string; keys?: string | undefined }[],
  id: string,
  keys: string,
): void {
  const { own } = useOwnKeys.getState();
  const before = commands.find((command) => command.id !== id && keysNow(command, own) === keys);
  useOwnKeys.setState({ own: { ...own, ...(before ? { [before.id]: "" } : {}), [id]: keys } });
}

export const ownKeysJson = (): string => `${JSON.stringify(useOwnKeys.getState().own, null, 2)}\n`;

/** @throws Error with what is wrong */
export function importKeys(text: string): void {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error("The file is no JSON.");
  }
  const parsed = ownKeysSchema.safeParse(json);
  if (!parsed.success) throw new Error("The file holds no table of commands and keys.");
  useOwnKeys.setState({ own: parsed.data });
}
