"use client";

import { Tabs } from "radix-ui";
import { useState } from "react";
import { ViewTabs } from "@ui/design-system/view-tabs";
import { BoardView } from "./board-view";
import { SubmissionView } from "./submission-view";
import { ReviewsView } from "@ui/features/review/reviews-view";
import { BatchView } from "./batch-view";
import { FileNamesView } from "./file-names-view";

const VIEWS = {
  board: "Board",
  names: "Names and tags",
  many: "One recipe for many",
  submission: "Documents and submission",
  review: "Review",
} as const;
type View = keyof typeof VIEWS;

export function DeliverStage() {
  const [view, setView] = useState<View>("board");
  return (
    <Tabs.Root value={view} onValueChange={(next) => setView(next as View)} className="flex h-full min-h-0 flex-col">
      <ViewTabs<View> label="Views of Deliver" names={VIEWS} />
      <Tabs.Content value="board" className="min-h-0 flex-1">
        <BoardView />
      </Tabs.Content>
      <Tabs.Content value="names" className="min-h-0 flex-1 overflow-y-auto">
        <FileNamesView />
      </Tabs.Content>
      <Tabs.Content value="many" className="min-h-0 flex-1 overflow-y-auto">
        <BatchView />
      </Tabs.Content>
      <Tabs.Content value="submission" className="min-h-0 flex-1 overflow-y-auto">
        <SubmissionView />
      </Tabs.Content>
      <Tabs.Content value="review" className="min-h-0 flex-1 overflow-y-auto">
        <ReviewsView />
      </Tabs.Content>
    </Tabs.Root>
  );
}
