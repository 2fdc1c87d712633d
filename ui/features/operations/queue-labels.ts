import type { QueueLoad } from "@core/project/operations-view";

/** What jobs of each queue do. */
export const QUEUE_LABELS: Readonly<Record<QueueLoad["queue"], string>> = {
  prepare: "Reading recordings",
  submission: "Handing over",
  segment: "Segments of long items",
  render: "Rendering masters",
  figures: "Figures of items, in the background",
  search: "Looking for events, in the background",
  copy: "Copies for listening",
  standing: "Predictions for the library, in the background",
  backup: "Backups",
};
