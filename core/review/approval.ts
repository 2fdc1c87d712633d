/** Whether what was decided is of the master as it is now: a decision is of bytes, and an edit afterwards makes others. */
import type { Approval } from "./views";

export type ApprovalState = "approved" | "sent back" | "approved another file" | "sent another file back";

/**
 * @param hash of the master's file as it is now; `null` where there is none
 * @returns `null` where nothing was decided
 */
export function approvalState(
  approval: Pick<Approval, "approved" | "file_hash"> | undefined,
  hash: string | null,
): ApprovalState | null {
  if (!approval) return null;
  if (approval.file_hash === hash) return approval.approved ? "approved" : "sent back";
  return approval.approved ? "approved another file" : "sent another file back";
}

/** The decision about a deliverable of an item. */
export const approvalOf = (approvals: readonly Approval[], item: string, deliverable: string): Approval | undefined =>
  approvals.find((one) => one.item_id === item && one.deliverable_id === deliverable);
