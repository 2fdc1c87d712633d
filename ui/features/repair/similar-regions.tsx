"use client";

import { PersistentWorker } from "@playback/persistent-worker";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { MatchAnswer, MatchRequest } from "@playback/template-matching.worker";
import type { RepairStep } from "@core/repair";
import type { TemplateMatch } from "@core/repair/template-matching";
import type { Region } from "@core/repair/time-frequency-region";
import { askWorker } from "@ui/workers/ask-worker";
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import { EventTable } from "./event-table";
import type { ChangeStep } from "./change-step";

/** How alike a place must be. */
const LEAST = [0.6, 0.7, 0.8, 0.9];

/** The rest of the recording is searched for what looks like the step's first region, to be treated alike. */
export function SimilarRegions({ step, facts, change }: { step: RepairStep; facts: ItemFacts; change: ChangeStep }) {
  const { item } = useCurrentItem();
  const [sought, setSought] = useState<Region | null>(null);
  const [least, setLeast] = useState(0.8);
  const [fraction, setFraction] = useState(0);
  const [first] = step.regions;
  const url = facts.source.pcm_hash && soundUrl(facts.source.pcm_hash);
  const before =
    item?.repairs.slice(
      0,
      item.repairs.findIndex(({ id }) => id === step.id),
    ) ?? [];
  const { data, error, isFetching } = useQuery({
    queryKey: ["similar", url, before, sought],
    enabled: sought !== null && url !== null,
    staleTime: Infinity,
    retry: false,
    queryFn: async ({ signal }) => {
      const worker = new PersistentWorker(
        () => new Worker(new URL("@playback/template-matching.worker.ts", import.meta.url), { type: "module" }),
      );
      const request: MatchRequest = { url: url!, before, region: sought!, least: LEAST[0]! };
      const answer = await askWorker<MatchAnswer>(worker, request, {
        signal,
        onProgress: (progress) => setFraction(progress.fraction),
      });
      return answer.places;
    },
  });
  if (!first) return null;
  const places = data?.filter(({ likeness }) => likeness >= least) ?? [];
  const isTreated = (place: TemplateMatch) =>
    step.regions.some(({ start, end }) => start < place.end && end > place.start);
  const regionAt = ({ start }: TemplateMatch): Region => {
    const by = start - first.start;
    const outline = first.outline?.map(({ frame, hertz }) => ({ frame: frame + by, hertz }));
    return { ...first, start, end: first.end + by, ...(outline ? { outline } : {}) };
  };
  const treat = (some: TemplateMatch[]) => {
    const open = some.filter((place) => !isTreated(place));
    if (open.length > 0) change({ regions: [...step.regions, ...open.map(regionAt)] }, `${open.length} more places`);
  };
  const leave = (place: TemplateMatch) =>
    change(
      { regions: step.regions.filter(({ start, end }) => !(start < place.end && end > place.start)) },
      "a place less",
    );
  const open = places.filter((place) => !isTreated(place));
  return (
    <div className="py-1">
      <div className="flex flex-wrap items-center gap-2">
        <Button
          disabled={isFetching}
          onClick={() => setSought(first)}
          hint="Looks through the recording for what looks like the first region in its band"
        >
          {isFetching ? `Looking: ${Math.round(100 * fraction)} %` : "Find what is alike"}
        </Button>
        {data && (
          <>
            <Select
              label="How alike"
              value={least}
              options={LEAST}
              words={(share) => `at least ${100 * share} % alike`}
              onChange={setLeast}
            />
            <Button kind="main" disabled={open.length === 0} onClick={() => treat(open)}>
              Treat all {open.length} alike
            </Button>
          </>
        )}
      </div>
      {error && (
        <p role="alert" className="text-outside">
          {error.message}
        </p>
      )}
      {data && (
        <EventTable
          places={places}
          facts={facts}
          stateOf={(place) => (isTreated(place) ? "treated" : "open")}
          onTreat={(place) => treat([place])}
          onLeave={leave}
          keyWords="Enter: treat it too; Delete: leave it alone."
          heading={
            <>
              <b>{places.length}</b> {places.length === 1 ? "place is" : "places are"} alike
            </>
          }
        />
      )}
    </div>
  );
}
