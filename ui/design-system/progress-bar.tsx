/** How far something is, with words for those who cannot see it. */
export function ProgressBar({ fraction, label }: { fraction: number; label: string }) {
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(fraction * 100)}
      className="h-1.5 w-full bg-grid"
    >
      <div className="h-full bg-act" style={{ width: `${Math.min(100, fraction * 100)}%` }} />
    </div>
  );
}

/** "about 12 s left", "about 3 min left". */
export function timeLeft(seconds: number | null | undefined): string {
  if (seconds === null || seconds === undefined || !Number.isFinite(seconds)) return "";
  if (seconds < 90) return `about ${Math.max(1, Math.round(seconds))} s left`;
  return `about ${Math.round(seconds / 60)} min left`;
}

/** Of a job that waits: its place, and when it may be done. */
export function queueLabel(job: { active: boolean; place: number; secondsLeft: number } | undefined): string {
  if (!job) return "waiting for a worker";
  if (job.active) return "beginning";
  return `${job.place === 1 ? "next" : `no. ${job.place} waiting`}, ${timeLeft(job.secondsLeft).replace(" left", "")}`;
}
