import type { NoiseStretchQuality } from "@core/repair/noise-profile-quality";
import { StandingMark } from "@ui/design-system/compliance-mark";

const MARKS = { fit: "inside", doubt: "close", error: "outside" } as const;

/** Whether a stretch was of use to learn from, and why not. */
export const Judgement = ({ judgement, fit }: { judgement: NoiseStretchQuality; fit: string }) => (
  <p className="flex gap-1.5 pt-1 text-label" role="status">
    <StandingMark standing={MARKS[judgement.standing]} />
    {judgement.standing === "fit" ? fit : judgement.words.join(" ")}
  </p>
);
