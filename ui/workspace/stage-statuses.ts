"use client";

import { useMemo } from "react";
import { counted } from "@core/audio/format";
import { findingsOf } from "@core/findings";
import { wholeChain } from "@core/project/document";
import { currentMasters, deliveredSubjects } from "@core/project/delivery";
import { knownRecordings, type ProjectView } from "@core/project/views";
import { check, worstStatus, type ComplianceStatus } from "@core/delivery/compliance";
import type { StageName } from "../state/workspace-store";
import { soughtInItem } from "../state/sought-events";
import { useCurrentItem } from "../state/current-item";

interface StageStatus {
  /** `null`: nothing to do here. */
  status: ComplianceStatus | null;
  words: string;
}

/** What stands behind each stage, in a mark and in words. */
export function useStageStatuses(): Record<StageName, StageStatus> {
  const { view, facts, chainFigures, spec, item } = useCurrentItem();
  const deliver = useMemo(() => deliverStatus(view), [view]);
  return useMemo(() => {
    const verdict = spec && chainFigures ? check(spec, chainFigures) : null;
    const noticed = facts ? findingsOf(facts.figures, spec, soughtInItem(facts)) : [];
    const faults = noticed.some(({ severity }) => severity === "fault");
    const outside = verdict?.limits.filter(({ status }) => status === "fail").length ?? 0;
    const chainLength = item ? wholeChain(view.document, item).filter(({ bypass }) => !bypass).length : 0;
    return {
      intake: intakeStatus(view),
      inspect: verdict
        ? {
            status: faults && verdict.status === "pass" ? "marginal" : verdict.status,
            words: `${
              outside
                ? `${outside} of ${verdict.limits.length} limits of ${spec!.name} are missed as it is`
                : `As it is, the item is inside ${spec!.name}`
            }; ${noticed.length === 0 ? "nothing was noticed" : `${noticed.length} noticed`}`,
          }
        : { status: null, words: "Figures, margins and faults of the item" },
      repair: {
        status: null,
        words: item?.clips ? "The recording is cut" : "Trim the head and tail; look where the floor and the peaks lie",
      },
      shape: {
        status: null,
        words: chainLength
          ? `${chainLength} ${chainLength === 1 ? "processor" : "processors"} in the chain`
          : "The chain is empty",
      },
      sequence: {
        status: null,
        words: facts ? `Running order of ${view.document.items.length}` : "The running order",
      },
      deliver,
    };
  }, [view, facts, chainFigures, spec, item, deliver]);
}

function intakeStatus(view: ProjectView): StageStatus {
  const failed = view.sources.filter(({ state }) => state === "failed").length;
  const busy = view.sources.filter(({ state }) => state === "waiting" || state === "preparing").length;
  const warned = view.sources.filter(({ warnings }) => warnings.length > 0).length;
  if (failed) return { status: "fail", words: `${failed} could not be read` };
  if (busy) return { status: "unknown", words: `${busy} being read` };
  if (view.uploads.length)
    return { status: "marginal", words: `${counted(view.uploads.length, "upload")} not complete` };
  if (warned) return { status: "marginal", words: `${warned} read with remarks` };
  if (view.sources.length) return { status: "pass", words: "All recordings are read" };
  return { status: null, words: "Drop recordings here" };
}

function deliverStatus(view: ProjectView): StageStatus {
  const current = currentMasters(view.document, view.masters, knownRecordings(view.sources));
  const statuses = current.flatMap(({ master }) => master.result?.verdict?.status ?? []);
  const missing = deliveredSubjects(view.document).length - statuses.length;
  if (statuses.length === 0)
    return { status: null, words: missing ? `${counted(missing, "master")} to render` : "Choose deliverables" };
  const failed = statuses.filter((status) => status === "fail").length;
  const words = failed
    ? `${failed} of ${counted(statuses.length, "master")} outside the spec`
    : `${counted(statuses.length, "master")} verified${missing ? `, ${missing} to render` : ""}`;
  return { status: worstStatus(statuses), words };
}
