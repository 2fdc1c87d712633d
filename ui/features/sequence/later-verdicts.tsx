"use client";

import { useMemo } from "react";
import { check, marginWords, STATUS_LABELS, worstStatus, type Verdict } from "@core/delivery/compliance";
import { predictDelivery } from "@core/delivery/predict-delivery";
import { LIMITED_FIGURES } from "@core/delivery/spec";
import { specOf, wholeChain, type Item } from "@core/project/document";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";

/** The margin of the figure that decides, in words. */
function decidingWords(verdict: Verdict): string {
  const worst = verdict.limits.reduce<(typeof verdict.limits)[number] | undefined>(
    (a, b) => ((b.margin ?? Infinity) < (a?.margin ?? Infinity) ? b : a),
    undefined,
  );
  return worst
    ? `${LIMITED_FIGURES[worst.limit.figure].label.toLowerCase()} ${marginWords(worst.limit, worst.value)}`
    : "no limits";
}

/** What each deliverable will make of a later recording by the item's chain, against what it makes of the earlier one. */
export function LaterVerdicts({ item, target }: { item: Item; target: Item }) {
  const { view } = useCurrentItem();
  const { known } = useWholeProgramme();
  const { document } = view;
  const rows = useMemo(() => {
    const [earlier, later] = [known(target), known(item)];
    if (!earlier || !later) return [];
    const chain = wholeChain(document, target);
    return document.deliverables.map((deliverable) => {
      const spec = specOf(document, deliverable.spec);
      const verdictOf = ({ figures, curves }: typeof later) =>
        check(spec, predictDelivery(figures, curves, chain, spec).figures);
      return { id: deliverable.id, name: spec.name, before: verdictOf(earlier), after: verdictOf(later) };
    });
  }, [document, known, item, target]);
  return (
    <span className="flex items-center gap-1">
      {rows.map(({ id, name, before, after }) => (
        <span
          key={id}
          title={`${name}: ${STATUS_LABELS[after.status]}, ${decidingWords(after)}; before ${STATUS_LABELS[before.status]}, ${decidingWords(before)}`}
          className={worstStatus([before.status, after.status]) === before.status ? "" : "outline outline-outside"}
        >
          <ComplianceMark status={after.status} />
        </span>
      ))}
    </span>
  );
}
