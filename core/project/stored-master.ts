/** Masters as earlier versions stored them, with today's names. */
import { withCurrentNamesThroughout } from "../parameters/former-names";
import { masterInputsSchema } from "./master-inputs";
import type { Master } from "./views";

const FORMER_VERDICT_NAMES = {
  standing: "status",
  demands: "fileRequirements",
  of: "scope",
  hard: "required",
  close: "marginalWithin",
};

const FORMER_STATUSES: Readonly<Record<string, string>> = { inside: "pass", close: "marginal", outside: "fail" };

/** A verdict of an earlier version, with today's names and statuses, as deep as it goes. */
function withCurrentStatuses(stored: unknown): unknown {
  if (Array.isArray(stored)) return stored.map(withCurrentStatuses);
  if (stored === null || typeof stored !== "object") return stored;
  return Object.fromEntries(
    Object.entries(stored).map(([name, value]) => [
      name,
      name === "status" && typeof value === "string" ? (FORMER_STATUSES[value] ?? value) : withCurrentStatuses(value),
    ]),
  );
}

/** A stored master as this version knows it: what was stored by this version is given back as it is. */
export function openMaster<Stored extends Pick<Master, "inputs" | "result">>(stored: Stored): Stored {
  const inputs = "pieces" in stored.inputs ? masterInputsSchema.safeParse(stored.inputs) : null;
  const verdict: object | null = stored.result?.verdict ?? null;
  const isFormer =
    verdict !== null && ("standing" in verdict || ("status" in verdict && String(verdict.status) in FORMER_STATUSES));
  if (!inputs?.success && !isFormer) return stored;
  return {
    ...stored,
    ...(inputs?.success ? { inputs: inputs.data } : {}),
    ...(isFormer
      ? {
          result: {
            ...stored.result,
            verdict: withCurrentStatuses(withCurrentNamesThroughout(verdict, FORMER_VERDICT_NAMES)),
          },
        }
      : {}),
  };
}
