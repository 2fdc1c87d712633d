"use client";

import { PROGRAMME_ID } from "@core/project/document";
import type { Remark, ReviewFile } from "@core/review/views";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { goToProgramme } from "@ui/state/programme-listening";
import { showRange } from "@ui/state/show-range";
import { goToStage, openItem, useWorkspace } from "@ui/state/workspace-store";

/** Gives the function that goes where a remark was made: to the item, or to the programme. */
export function useShowRemark(): (remark: Remark, file: ReviewFile) => void {
  const { item, facts } = useCurrentItem();
  const { timeline } = useWholeProgramme();
  return ({ at_seconds: at, end_seconds: end }, { item_id: id }) => {
    if (id === PROGRAMME_ID) {
      goToStage("sequence");
      if (timeline) goToProgramme(at, timeline.sampleRate);
      return;
    }
    goToStage("inspect");
    if (item?.id === id && facts) return showRange(facts, at, end === null ? 0 : end - at);
    openItem(id);
    useWorkspace.setState({ cursor: at, selection: end === null ? null : { start: at, end } });
  };
}
