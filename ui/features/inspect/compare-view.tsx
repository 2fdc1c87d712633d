"use client";

import { Select } from "@ui/design-system/controls";
import { useMemo, useState } from "react";
import type { Figures } from "@core/measure";
import { FIGURE_COLUMNS } from "@core/report/columns";
import { CORE_VERSION } from "@core/audio/core-version";
import { formatDb } from "@core/audio/format";
import { blobUrl } from "@ui/api/api";
import { Panel } from "@ui/design-system/panel";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import { Difference, type Compared } from "./difference";

/** The recording beside another one, or beside a master of it: figures, and the difference signal measured. */
export function CompareView({ facts }: { facts: ItemFacts }) {
  const { view, source } = useCurrentItem();
  const others = useMemo<Compared[]>(() => {
    const nameOf = (hash: string) => view.document.sources.find((one) => one.hash === hash)?.name ?? hash.slice(0, 8);
    const recordings = view.sources
      .filter(({ hash, pcm_hash }) => hash !== source?.hash && pcm_hash !== null)
      .map(({ hash, pcm_hash, figures }) => ({
        key: hash,
        name: nameOf(hash),
        url: soundUrl(pcm_hash!),
        figures,
        madeOf: null,
      }));
    const masters = view.masters
      .filter(
        ({ item_id, file_hash, state, inputs }) =>
          item_id === facts.item.id && file_hash !== null && state === "done" && inputs.coreVersion === CORE_VERSION,
      )
      .map(({ id, file_hash, result, inputs }) => ({
        key: id,
        name: `its master for ${inputs.recipe.spec?.name ?? "no specification"}`,
        url: new URL(blobUrl(file_hash!), location.href).href,
        figures: result?.figures ?? null,
        // A file of a programme begins elsewhere.
        madeOf: inputs.programme ? null : { repairs: inputs.recipe.repairs, clips: inputs.clips },
      }));
    return [...masters, ...recordings];
  }, [view, source, facts.item.id]);
  // Masters that come in meanwhile do not take the place of what is being compared.
  const [chosen, setChosen] = useState<string | null>(others[0]?.key ?? null);
  const other = others.find(({ key }) => key === chosen) ?? others[0] ?? null;
  if (!other)
    return (
      <p className="p-4 text-soft">
        There is nothing to compare with yet: another recording of the project, or a master of this item, can be laid
        beside it.
      </p>
    );
  return (
    <div className="grid h-full grid-cols-[minmax(340px,1fr)_minmax(420px,1.5fr)] divide-x divide-hair">
      <Panel
        title="Side by side"
        aside={
          <Select
            label="Compare with"
            value={other.key}
            options={others.map(({ key }) => key)}
            words={(key) => others.find((one) => one.key === key)!.name}
            onChange={setChosen}
            className="h-6 max-w-52 text-act"
          />
        }
      >
        <SideBySide first={facts.source.figures!} second={other.figures} />
      </Panel>
      <Difference facts={facts} other={other} />
    </div>
  );
}

function SideBySide({ first, second }: { first: Figures; second: Figures | null }) {
  return (
    <table className="w-full text-right" data-testid="side-by-side">
      <thead className="text-label text-soft">
        <tr className="h-[20px] [&>th]:font-normal">
          <th />
          <th>this</th>
          <th>the other</th>
          <th title="The other less this">differs by</th>
        </tr>
      </thead>
      <tbody className="figure">
        {FIGURE_COLUMNS.map(({ id, label, unit, digits, value }) => {
          const [a, b] = [value(first), second && value(second)];
          return (
            <tr key={id} className="h-[21px] border-t border-grid">
              <th className="text-left font-sans font-normal">
                {label} <span className="text-label text-soft">{unit}</span>
              </th>
              <td>{a === null ? "—" : formatDb(a, { digits })}</td>
              <td>{b === null ? "—" : formatDb(b, { digits })}</td>
              <td>{a === null || b === null ? "" : formatDb(b - a, { digits, sign: true })}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
