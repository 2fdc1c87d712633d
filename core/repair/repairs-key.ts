import { sha256Of } from "../math/sha256";
import { canonicalJson } from "../math/canonical-json";
import { CORE_VERSION } from "../audio/core-version";
import type { RepairStep } from ".";

/** What the result of steps on a recording is kept by: content, steps and version; names of steps do not count. */
export const repairsKey = (content: string, steps: readonly RepairStep[]): string =>
  sha256Of(canonicalJson([CORE_VERSION, content, steps.map(({ id: _, ...step }) => step)]));
