import type { ComplianceStatus } from "@core/delivery/compliance";

const WORDS: Record<ComplianceStatus, string> = {
  inside: "inside",
  close: "close to the limit",
  outside: "outside",
  unknown: "not known yet",
};
const COLOURS: Record<ComplianceStatus, string> = {
  inside: "text-inside",
  close: "text-close",
  outside: "text-outside",
  unknown: "text-soft",
};

export const statusColour = (standing: ComplianceStatus): string => COLOURS[standing];

/** Status by shape, then colour: a filled circle inside, a diamond close, a triangle outside, a ring unknown. */
export function ComplianceMark({ standing, size = 10 }: { standing: ComplianceStatus; size?: number }) {
  return (
    <svg
      role="img"
      aria-label={WORDS[standing]}
      width={size}
      height={size}
      viewBox="0 0 10 10"
      className={`shrink-0 ${COLOURS[standing]}`}
    >
      {standing === "inside" && <circle cx="5" cy="5" r="4.2" fill="currentColor" />}
      {standing === "close" && <path d="M5 0.2 9.8 5 5 9.8 0.2 5Z" fill="currentColor" />}
      {standing === "outside" && <path d="M5 0.6 9.8 9.4H0.2Z" fill="currentColor" />}
      {standing === "unknown" && <circle cx="5" cy="5" r="3.8" fill="none" stroke="currentColor" strokeWidth="1.2" />}
    </svg>
  );
}
