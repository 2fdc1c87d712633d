import { canonicalJson, CORE_VERSION } from "../render/recipe";
import type { RepairStep } from "./index";

/** FNV-1a over UTF-16 units, with four different starts: 128 bits that tell steps apart, no cryptography. */
function digest(text: string): string {
  return [0x811c9dc5, 0x01000193, 0x9e3779b9, 0x85ebca6b]
    .map((start) => {
      let hash = start;
      for (let i = 0; i < text.length; i++) {
        hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
        hash ^= hash >>> 15;
      }
      return (hash >>> 0).toString(16).padStart(8, "0");
    })
    .join("");
}

/** What the result of steps on a recording is kept by: content, steps and version; names of steps do not count. */
export const repairsKey = (content: string, steps: readonly RepairStep[]): string =>
  digest(canonicalJson([CORE_VERSION, content, steps.map(({ id: _, ...step }) => step)]));
