import { STATUS_LABELS, type ComplianceStatus } from "@core/delivery/compliance";

const COLOURS: Record<ComplianceStatus, string> = {
  pass: "text-inside",
  marginal: "text-close",
  fail: "text-outside",
  unknown: "text-soft",
};

export const statusColour = (status: ComplianceStatus): string => COLOURS[status];

/** Status by shape, then colour: a filled circle inside, a diamond close, a triangle outside, a ring unknown. */
export function ComplianceMark({ status, size = 10 }: { status: ComplianceStatus; size?: number }) {
  return (
    <svg
      role="img"
      aria-label={STATUS_LABELS[status]}
      width={size}
      height={size}
      viewBox="0 0 10 10"
      className={`shrink-0 ${COLOURS[status]}`}
    >
      {status === "pass" && <circle cx="5" cy="5" r="4.2" fill="currentColor" />}
      {status === "marginal" && <path d="M5 0.2 9.8 5 5 9.8 0.2 5Z" fill="currentColor" />}
      {status === "fail" && <path d="M5 0.6 9.8 9.4H0.2Z" fill="currentColor" />}
      {status === "unknown" && <circle cx="5" cy="5" r="3.8" fill="none" stroke="currentColor" strokeWidth="1.2" />}
    </svg>
  );
}
