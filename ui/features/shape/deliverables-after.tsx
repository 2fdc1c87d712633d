"use client";

import { useMemo } from "react";
import { predictDelivery } from "@core/delivery/predict-delivery";
import { specOf } from "@core/project/document";
import { formatDb } from "@core/audio/format";
import { check } from "@core/delivery/compliance";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "@ui/state/current-item";
import { useOvershoots } from "@ui/state/use-overshoots";

/** What each deliverable will be after the chain as it stands: estimated while a setting moves. */
export function DeliverablesAfter() {
  const { view, item, predictable, chain } = useCurrentItem();
  const overshootOf = useOvershoots(view);
  const { deliverables } = view.document;
  const rows = useMemo(() => {
    if (!predictable) return [];
    const { figures, curves, known } = predictable;
    return deliverables.map((deliverable) => {
      const spec = specOf(view.document, deliverable.spec);
      const overshoot = item && overshootOf(item, deliverable.format, deliverable.mix);
      const prediction = predictDelivery(figures, curves, chain, spec, { known, overshoot });
      return { id: deliverable.id, spec, prediction, verdict: check(spec, prediction.figures) };
    });
  }, [item, predictable, chain, deliverables, view.document, overshootOf]);
  if (rows.length === 0) return <p className="text-label text-soft">No deliverable is chosen: margins need one.</p>;
  return (
    <table className="w-full text-label" data-testid="after">
      <caption className="text-left text-soft">will be delivered as, estimated</caption>
      <tbody>
        {rows.map(({ id, spec, prediction, verdict }) => (
          <tr key={id} className="border-t border-grid">
            <td className="py-0.5">
              <span className="flex items-center gap-1.5">
                <ComplianceMark status={verdict.status} /> <span className="truncate">{spec.name}</span>
                {prediction.limitingDb > 0.05 && (
                  <span className="figure ml-auto whitespace-nowrap text-soft">
                    {prediction.limitingDb.toFixed(1)} dB limited
                  </span>
                )}
              </span>
              <span className="figure block pl-4">
                {formatDb(prediction.figures.integratedLufs ?? null)} <span className="text-soft">LUFS</span>{" "}
                {formatDb(prediction.figures.truePeakDbtp ?? null)} <span className="text-soft">dBTP</span>
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
