"use client";

import { formatDistanceToNowStrict } from "date-fns";
import { MessageSquare } from "lucide-react";
import { useEffect, useState } from "react";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { Hint } from "@ui/design-system/hint";
import { useSaveState } from "@ui/api/save-state";
import { goToStage, STAGES, useWorkspace } from "../state/workspace-store";
import { openThreads, useComments } from "../state/comments";
import { useCurrentItem } from "../state/current-item";
import { PeopleHere } from "./people-here";
import { useStageStatuses } from "./stage-statuses";

const NAMES = {
  intake: "Intake",
  inspect: "Inspect",
  repair: "Repair",
  shape: "Shape",
  sequence: "Sequence",
  deliver: "Deliver",
} as const;

/** The six doors, always open, each with a mark of what it found. */
export function StageNav() {
  const stage = useWorkspace((workspace) => workspace.stage);
  const statuses = useStageStatuses();
  return (
    <nav aria-label="Stages" className="flex min-h-0 flex-col border-r border-hair bg-sheet pt-2">
      {STAGES.map((name, index) => {
        const { status, words } = statuses[name];
        return (
          <Hint key={name} text={words} shortcut={String(index + 1)}>
            <button
              type="button"
              aria-current={stage === name ? "page" : undefined}
              onClick={() => goToStage(name)}
              className={`flex h-[37px] items-center gap-2 border-l-3 px-3 text-left ${
                stage === name ? "border-act bg-act-ground font-semibold" : "border-transparent hover:bg-act-ground/60"
              }`}
            >
              <span className="figure w-3 text-soft">{index + 1}</span>
              {NAMES[name]}
              {status && (
                <span className="ml-auto">
                  <ComplianceMark status={status} size={9} />
                </span>
              )}
            </button>
          </Hint>
        );
      })}
      <span className="flex-1" />
      <OpenComments />
      <PeopleHere />
      <Saved />
    </nav>
  );
}

/** How many comments of the team are open, of all items; pressed, those of the item in hand are shown. */
function OpenComments() {
  const { view, facts } = useCurrentItem();
  const open = [...openThreads(useComments(view.id) ?? []).values()].reduce((sum, count) => sum + count, 0);
  const words = facts ? "Comments of the team: how many are open" : "There is no item to comment on yet";
  return (
    <Hint text={words} shortcut="Shift C">
      <button
        type="button"
        aria-disabled={facts === null}
        onClick={() => useWorkspace.setState({ dialog: "comments" })}
        className="flex items-center gap-1.5 border-t border-hair px-3 py-1.5 text-left text-label text-soft hover:bg-act-ground/60 hover:text-act aria-disabled:opacity-45"
      >
        <MessageSquare size={12} /> Comments{open > 0 && <span className="figure ml-auto">{open}</span>}
      </button>
    </Hint>
  );
}

/** Whether what was done is saved: never said of what the server has not answered. */
function SavedWords() {
  const { view } = useCurrentItem();
  const pending = useSaveState((saving) => saving.pending[view.id] ?? 0);
  const problem = useSaveState((saving) => saving.problem);
  if (pending === 0) return <>Saved {formatDistanceToNowStrict(new Date(view.savedAt))} ago</>;
  if (problem === null) return <>Saving …</>;
  return (
    <span
      className="text-close"
      title={`${problem} ${pending} ${pending === 1 ? "edit is" : "edits are"} kept in this browser.`}
    >
      ◆ Not saved yet, trying again
    </span>
  );
}

function Saved() {
  const { view } = useCurrentItem();
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((n) => n + 1), 20_000);
    return () => clearInterval(timer);
  }, []);
  return (
    <button
      type="button"
      onClick={() => useWorkspace.setState({ dialog: "history" })}
      className="px-3 py-3 text-left text-label text-soft hover:text-act"
    >
      <span role="status" data-testid="saved">
        <SavedWords />
      </span>
      <br />
      history · {view.states} {view.states === 1 ? "state" : "states"}
    </button>
  );
}
