"use client";

import { useEffect, useState } from "react";
import { useWorkspace } from "../state/workspace-store";

/** Keys are shown for so long after the last one; clicks for as long as their ring spreads. */
const KEYS_MS = 1600;
const CLICK_MS = 500;
const MOST_KEYS = 6;

const NAMES: Readonly<Record<string, string>> = {
  " ": "Space",
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowUp: "↑",
  ArrowDown: "↓",
  Escape: "Esc",
};
const MODIFIERS = ["Control", "Shift", "Alt", "Meta"];

/** A key with what is held beside it, as it is read: "Ctrl Shift Z". */
export function keyWords(
  event: Pick<KeyboardEvent, "key" | "ctrlKey" | "shiftKey" | "altKey" | "metaKey">,
): string | null {
  if (MODIFIERS.includes(event.key)) return null;
  const { key } = event;
  const isLetter = key.length === 1 && key.toLowerCase() !== key.toUpperCase();
  const held = [
    event.ctrlKey && "Ctrl",
    event.metaKey && "Meta",
    event.altKey && "Alt",
    // Of a sign that needs Shift anyhow it is not told.
    event.shiftKey && (isLetter || key.length > 1) && "Shift",
  ];
  return [...held.filter(Boolean), NAMES[key] ?? (isLetter ? key.toUpperCase() : key)].join(" ");
}

/** For teaching: keys and clicks are shown on the screen while they are made. */
export function ShownInput() {
  const isShown = useWorkspace((workspace) => workspace.showsInput);
  return isShown ? <Shown /> : null;
}

function Shown() {
  const [keys, setKeys] = useState<{ words: string; id: number }[]>([]);
  const [clicks, setClicks] = useState<{ x: number; y: number; id: number }[]>([]);
  useEffect(() => {
    let id = 0;
    const timers = new Set<ReturnType<typeof setTimeout>>();
    const later = (work: () => void, ms: number) => {
      const timer = setTimeout(() => {
        timers.delete(timer);
        work();
      }, ms);
      timers.add(timer);
    };
    const onKey = (event: KeyboardEvent) => {
      const words = keyWords(event);
      if (words === null || isSecret(event.target)) return;
      const own = ++id;
      setKeys((list) => [...list, { words, id: own }].slice(-MOST_KEYS));
      later(() => setKeys((list) => list.filter((key) => key.id !== own)), KEYS_MS);
    };
    const onPointer = ({ clientX: x, clientY: y }: PointerEvent) => {
      const own = ++id;
      setClicks((list) => [...list, { x, y, id: own }]);
      later(() => setClicks((list) => list.filter((click) => click.id !== own)), CLICK_MS);
    };
    addEventListener("keydown", onKey, { capture: true });
    addEventListener("pointerdown", onPointer, { capture: true });
    return () => {
      removeEventListener("keydown", onKey, { capture: true });
      removeEventListener("pointerdown", onPointer, { capture: true });
      for (const timer of timers) clearTimeout(timer);
    };
  }, []);
  return (
    <div aria-hidden data-testid="shown-input" className="pointer-events-none fixed inset-0 z-[60]">
      <div className="absolute inset-x-0 bottom-16 flex justify-center gap-2">
        {keys.map(({ words, id }) => (
          <kbd key={id} className="rounded-[6px] bg-ink px-3 py-1.5 text-head text-sheet">
            {words}
          </kbd>
        ))}
      </div>
      {clicks.map(({ x, y, id }) => (
        <span
          key={id}
          className="absolute size-10 -translate-x-1/2 -translate-y-1/2 animate-ping rounded-full border-2 border-act"
          style={{ left: x, top: y }}
        />
      ))}
    </div>
  );
}

/** What is typed into a field for secrets is nobody's to see. */
const isSecret = (target: EventTarget | null): boolean =>
  target instanceof HTMLInputElement && target.type === "password";
