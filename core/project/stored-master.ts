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

/** A stored master as this version knows it: what was stored by this version is given back as it is. */
export function openMaster<Stored extends Pick<Master, "inputs" | "result">>(stored: Stored): Stored {
  const inputs = "pieces" in stored.inputs ? masterInputsSchema.safeParse(stored.inputs) : null;
  const verdict: object | null = stored.result?.verdict ?? null;
  const isFormer = verdict !== null && "standing" in verdict;
  if (!inputs?.success && !isFormer) return stored;
  return {
    ...stored,
    ...(inputs?.success ? { inputs: inputs.data } : {}),
    ...(isFormer
      ? { result: { ...stored.result, verdict: withCurrentNamesThroughout(verdict, FORMER_VERDICT_NAMES) } }
      : {}),
  };
}
