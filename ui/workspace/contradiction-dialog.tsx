"use client";

import { useMemo } from "react";
import { commandLabel, type Command } from "@core/project/commands";
import { contradictingValues, type ContradictingValue } from "@core/project/contradiction";
import type { ProjectDocument } from "@core/project/document";
import { settleContradiction, useContradictions, type Contradiction } from "@ui/api/contradictions";
import { Button } from "@ui/design-system/button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";

/** What somebody else changed while it was changed here: both values, and which of them is to stand. */
export function ContradictionDialog() {
  const { view } = useCurrentItem();
  const contradiction = useContradictions(({ unsettled }) => unsettled.find(({ project }) => project === view.id));
  return contradiction && contradiction.before !== view.head ? <Choice contradiction={contradiction} /> : null;
}

/** So many values are shown, and how many more there are. */
const MOST = 8;

function Choice({ contradiction }: { contradiction: Contradiction }) {
  const { command, made } = contradiction;
  const { view, edit } = useCurrentItem();
  const settle = () => settleContradiction(contradiction);
  const { values, problem } = useMemo(() => differing(view.document, command), [view.document, command]);
  const [first] = made;
  const useMine = () => {
    settle();
    void edit(command);
  };
  return (
    <SheetDialog
      open
      onClose={settle}
      title="Changed by both"
      help={`${first!.author} changed the same while you did. Theirs stands; nothing of yours is made yet.`}
    >
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
        {made.map(({ label, author }, n) => (
          <div key={n} className="contents">
            <dt className="text-soft">{author}</dt>
            <dd>{label}</dd>
          </div>
        ))}
        <dt className="text-soft">you</dt>
        <dd>{labelOf(command, view.document)}</dd>
      </dl>
      {problem !== null && <p className="mt-3 text-outside">Yours cannot be made any more: {problem}</p>}
      {problem === null && values.length === 0 && <p className="mt-3 text-soft">Both come to the same.</p>}
      {values.length > 0 && (
        <table className="mt-3 w-full">
          <thead>
            <tr className="border-b border-hair text-left text-label text-soft">
              <th className="py-1 font-normal">what</th>
              <th className="font-normal">theirs</th>
              <th className="font-normal">yours</th>
            </tr>
          </thead>
          <tbody>
            {values.slice(0, MOST).map(({ what, theirs, mine }, n) => (
              <tr key={n} className="border-b border-grid align-top">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  {what}
                </th>
                <td className="figure py-1 pr-3">{theirs}</td>
                <td className="figure py-1">{mine}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {values.length > MOST && <p className="mt-1 text-label text-soft">and {values.length - MOST} more</p>}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={settle}>Keep theirs</Button>
        <Button kind="main" disabled={problem !== null || values.length === 0} onClick={useMine}>
          Use mine
        </Button>
      </div>
    </SheetDialog>
  );
}

function labelOf(command: Command, document: ProjectDocument): string {
  try {
    return commandLabel(command, document);
  } catch {
    return "an edit of something that is gone";
  }
}

function differing(
  document: ProjectDocument,
  command: Command,
): { values: ContradictingValue[]; problem: string | null } {
  try {
    return { values: contradictingValues(document, command), problem: null };
  } catch (error) {
    return { values: [], problem: error instanceof Error ? error.message : String(error) };
  }
}
