import type { NoiseProfileQuality } from "@core/repair/noise-profile-quality";
import { ComplianceMark } from "@ui/design-system/compliance-mark";

const MARKS = { fit: "pass", doubt: "marginal", error: "fail" } as const;

/** Whether a stretch was of use to learn from, and why not. */
export const ProfileQuality = ({ quality, fit }: { quality: NoiseProfileQuality; fit: string }) => (
  <p className="flex gap-1.5 pt-1 text-label" role="status">
    <ComplianceMark status={MARKS[quality.standing]} />
    {quality.standing === "fit" ? fit : quality.remarks.join(" ")}
  </p>
);
