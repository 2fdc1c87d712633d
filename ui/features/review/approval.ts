import { currentMasters } from "@core/project/delivery";
import { knownRecordings, type ProjectView } from "@core/project/views";
import type { ReviewVerdict } from "@core/review/views";

/** Whether a decision is of the master as it is now. */
export const isOfFileNow = (
  view: ProjectView,
  {
    item_id: item,
    deliverable_id: deliverable,
    file_hash: hash,
  }: { item_id: string; deliverable_id: string; file_hash: string },
): boolean =>
  currentMasters(view.document, view.masters, knownRecordings(view.sources)).some(
    ({ master }) => master.item_id === item && master.deliverable_id === deliverable && master.file_hash === hash,
  );

export const approvalWords = ({ approved, name }: Pick<ReviewVerdict, "approved" | "name">, isNow: boolean): string =>
  `${approved ? "approved" : "sent back"} by ${name}${isNow ? "" : "; the master is another file now"}`;
