"use client";

import { useState } from "react";
import { cutsOf, reopened, type Cut } from "@core/edit-list/edits";
import { DEFAULT_CROSSFADE } from "@core/edit-list/clip";
import { formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { playAround, type EditActions } from "@ui/state/edit-actions";
import type { ItemFacts } from "@ui/state/current-item";
import { Panel } from "../../design-system/panel";
import { showRange } from "../../state/show-range";
import { CrossfadeSetting } from "./crossfade-setting";

/** An edge is moved by this at a time. */
const NUDGE_SECONDS = 0.02;

/** Every cut there is: heard, set, opened again. */
export function CutList({ facts, cutting }: { facts: ItemFacts; cutting: EditActions }) {
  const { editList } = facts;
  const cuts = cutsOf(editList);
  const [chosen, setChosen] = useState<number | null>(null);
  return (
    <Panel
      title="Cuts"
      aside={
        cuts.length > 0 ? (
          <button type="button" className="text-act" onClick={() => cutting.openAll()}>
            open all {cuts.length}
          </button>
        ) : (
          "none"
        )
      }
    >
      {cuts.length === 0 && (
        <p className="py-2 text-soft">
          The whole recording is used. Select what is to go and press Delete: what follows moves up, and the crossfade
          is heard.
        </p>
      )}
      <ul data-testid="cuts">
        {cuts.map((cut) => (
          <CutRow
            key={cut.index}
            cut={cut}
            facts={facts}
            cutting={cutting}
            open={chosen === cut.index}
            onChoose={() => setChosen(chosen === cut.index ? null : cut.index)}
          />
        ))}
      </ul>
    </Panel>
  );
}

/** What a cut does, in words. */
function cutWords({ index, leftOut }: Cut, { editList, sampleRate }: ItemFacts): string {
  const { placed } = editList;
  const out = `${(leftOut / sampleRate).toFixed(2)} s`;
  if (index === 0) return `head, ${out} left out`;
  const here = placed[index]?.clip;
  if (!here) return `tail, ${out} left out`;
  const length = ((here.end - here.start) / sampleRate).toFixed(2);
  if (here.kind !== "recording") return `${length} s of ${here.kind === "room-tone" ? "room tone" : "silence"} put in`;
  if (placed[index - 1]!.clip.kind !== "recording") return "the recording goes on";
  return leftOut > 0 ? `${out} left out` : `goes on from ${formatTime(here.start / sampleRate, 2)} of the recording`;
}

function CutRow({
  cut,
  facts,
  cutting,
  open,
  onChoose,
}: {
  cut: Cut;
  facts: ItemFacts;
  cutting: EditActions;
  open: boolean;
  onChoose: () => void;
}) {
  const { editList, sampleRate } = facts;
  const { at, index } = cut;
  const seconds = at / sampleRate;
  const clip = editList.clips[index];
  const isEnd = index === 0 || !clip;
  const nudge = (edge: "before" | "behind", by: number) => () => cutting.nudge(index, edge, at, by);
  const edges = [
    ["before", "what comes before ends", editList.clips[index - 1]],
    ["behind", "what follows begins", clip],
  ] as const;
  return (
    <li className={`border-b border-grid py-0.5 ${open ? "-mx-2 bg-act-ground px-2" : ""}`}>
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="figure text-act hover:underline"
          onClick={() => {
            showRange(facts, seconds);
            playAround(facts, seconds);
          }}
          title="Show, and hear around it"
        >
          {formatTime(seconds, 3)}
        </button>
        <button type="button" aria-expanded={open} className="min-w-0 flex-1 truncate text-left" onClick={onChoose}>
          {cutWords(cut, facts)}
          {!isEnd && (
            <span className="text-label text-soft">
              {" "}
              · {(clip.crossfade ?? DEFAULT_CROSSFADE).shape},{" "}
              {Number(((clip.crossfade ?? DEFAULT_CROSSFADE).seconds * 1000).toFixed(1))} ms
            </span>
          )}
        </button>
        {reopened(editList, index) && (
          <Button kind="quiet" onClick={() => cutting.open(index, at)} hint="What was left out is there again">
            Open
          </Button>
        )}
      </div>
      {open && (
        <div className="grid gap-0.5 pb-1 text-label">
          {!isEnd && (
            <CrossfadeSetting
              words="this crossfade"
              crossfade={clip.crossfade ?? DEFAULT_CROSSFADE}
              onChange={(crossfade) => cutting.setCrossfade(index, at, crossfade)}
            />
          )}
          {edges.map(
            ([edge, words, side]) =>
              side?.kind === "recording" && (
                <div key={edge} role="group" aria-label={words} className="flex items-center justify-between gap-2">
                  <span className="text-soft">{words}</span>
                  <span className="flex gap-1">
                    <Button onClick={nudge(edge, -NUDGE_SECONDS)}>−20 ms</Button>
                    <Button onClick={nudge(edge, NUDGE_SECONDS)}>+20 ms</Button>
                  </span>
                </div>
              ),
          )}
        </div>
      )}
    </li>
  );
}
