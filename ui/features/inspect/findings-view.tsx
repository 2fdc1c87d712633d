import { STATUS_OF_SEVERITY } from "@core/findings";
import type { Finding } from "@core/findings/finding";
import { formatTime } from "@core/audio/format";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import type { ItemFacts } from "@ui/state/current-item";
import { MendButton } from "./mend-button";
import { TimeLink } from "./time-link";
import type { MeasuredRange } from "./use-measured";

const SHOWN_PLACES = 10;

/** What was noticed, faults first: the facts, what could be done, and where. */
export function FindingsView({
  facts,
  stretch,
  findings,
}: {
  facts: ItemFacts;
  stretch: MeasuredRange;
  findings: Finding[];
}) {
  return (
    <div className="h-full overflow-y-auto px-4 py-2">
      {findings.length === 0 && (
        <p className="py-3 text-soft">
          Nothing was noticed: no dead, inverted or doubled channel, no clipping, DC, hum or cut-off band, no digital
          silence, and the floor is inside its limit where there is one
          {facts.source.events ? "; no clicks, and in speech no mouth noise, breaths or plosives" : ""}.
        </p>
      )}
      {!facts.source.events && (
        <p className="text-label text-soft">
          Clicks, mouth noise, breaths and plosives are looked for in the background, or by their lists in Repair where
          a recording is very long.
        </p>
      )}
      <ul data-testid="findings">
        {findings.map((finding) => (
          <li
            key={`${finding.kind}/${finding.about}`}
            className="grid grid-cols-[16px_minmax(190px,0.8fr)_minmax(220px,1.2fr)_minmax(200px,1fr)] items-baseline gap-3 border-b border-grid py-1.5"
          >
            <ComplianceMark status={STATUS_OF_SEVERITY[finding.severity]} />
            <span className="font-semibold">{finding.title}</span>
            <span>
              {finding.facts}{" "}
              {finding.places.slice(0, SHOWN_PLACES).map(({ seconds, length }) => (
                <span key={seconds} className="figure mr-2">
                  <TimeLink facts={facts} place={{ seconds: stretch.offset + seconds, length }}>
                    {formatTime(stretch.offset + seconds, 2)}
                  </TimeLink>
                </span>
              ))}
              {finding.places.length > SHOWN_PLACES && (
                <span className="text-soft">and {finding.places.length - SHOWN_PLACES} more</span>
              )}
            </span>
            <span className="text-soft">
              {finding.advice} <MendButton finding={finding} facts={facts} />
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
