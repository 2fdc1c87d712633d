"use client";

import { useMemo } from "react";
import { findingsOf } from "@core/findings";
import { wholeChain } from "@core/project/document";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { knownRecordings, type ProjectView } from "@core/project/views";
import { check, worstStatus, type ComplianceStatus } from "@core/delivery/compliance";
import type { StageName } from "../state/workspace-store";
import { useCurrentItem } from "../state/current-item";

interface DoorStanding {
  /** `null`: nothing to do here. */
  standing: ComplianceStatus | null;
  words: string;
}

/** What stands behind each door, in a mark and in words. */
export function useStageStatuses(): Record<StageName, DoorStanding> {
  const { view, facts, chainFigures, spec, item } = useCurrentItem();
  return useMemo(() => {
    const verdict = spec && chainFigures ? check(spec, chainFigures) : null;
    const noticed = facts ? findingsOf(facts.figures, spec) : [];
    const faults = noticed.some(({ severity }) => severity === "fault");
    const outside = verdict?.limits.filter(({ status }) => status === "fail").length ?? 0;
    const chainLength = item ? wholeChain(view.document, item).filter(({ bypass }) => !bypass).length : 0;
    return {
      intake: intakeStanding(view),
      inspect: verdict
        ? {
            standing: faults && verdict.status === "pass" ? "marginal" : verdict.status,
            words: `${
              outside
                ? `${outside} of ${verdict.limits.length} limits of ${spec!.name} are missed as it is`
                : `As it is, the item is inside ${spec!.name}`
            }; ${noticed.length === 0 ? "nothing was noticed" : `${noticed.length} noticed`}`,
          }
        : { standing: null, words: "Figures, margins and faults of the item" },
      repair: {
        standing: null,
        words: item?.clips ? "The recording is cut" : "Trim the head and tail; look where the floor and the peaks lie",
      },
      shape: {
        standing: null,
        words: chainLength
          ? `${chainLength} ${chainLength === 1 ? "processor" : "processors"} in the chain`
          : "The chain is empty",
      },
      sequence: {
        standing: null,
        words: facts ? `Running order of ${view.document.items.length}` : "The running order",
      },
      deliver: deliverStanding(view),
    };
  }, [view, facts, chainFigures, spec, item]);
}

function intakeStanding(view: ProjectView): DoorStanding {
  const failed = view.sources.filter(({ state }) => state === "failed").length;
  const busy = view.sources.filter(({ state }) => state === "waiting" || state === "preparing").length;
  const warned = view.sources.filter(({ warnings }) => warnings.length > 0).length;
  if (failed) return { standing: "fail", words: `${failed} could not be read` };
  if (busy) return { standing: "unknown", words: `${busy} being read` };
  if (view.uploads.length) return { standing: "marginal", words: `${view.uploads.length} uploads not complete` };
  if (warned) return { standing: "marginal", words: `${warned} read with remarks` };
  if (view.sources.length) return { standing: "pass", words: "All recordings are read" };
  return { standing: null, words: "Drop recordings here" };
}

function deliverStanding(view: ProjectView): DoorStanding {
  const { items, deliverables } = view.document;
  const standings: ComplianceStatus[] = [];
  let missing = 0;
  const known = knownRecordings(view.sources);
  for (const item of items) {
    for (const deliverable of deliverables) {
      const inputs = masterInputs(view.document, item, deliverable, known);
      const key = inputs && masterKey(inputs);
      const master = view.masters.find((one) => one.key === key && one.state === "done");
      if (master?.result?.verdict) standings.push(master.result.verdict.status);
      else missing++;
    }
  }
  if (standings.length === 0)
    return { standing: null, words: missing ? `${missing} masters to render` : "Choose deliverables" };
  const failed = standings.filter((standing) => standing === "fail").length;
  const words = failed
    ? `${failed} of ${standings.length} masters miss their spec`
    : `${standings.length} masters verified${missing ? `, ${missing} to render` : ""}`;
  return { standing: worstStatus(standings), words };
}
