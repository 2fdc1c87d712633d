"use client";

import { isLeftOut } from "@core/project/mixes";
import { useCurrentItem } from "@ui/state/current-item";

/** In which mixes of the item a repair or processor is used; nothing where it has one alone. */
export function MixSwitches({ work }: { work: string }) {
  const { item, edit } = useCurrentItem();
  if (!item?.mixes) return null;
  return (
    <fieldset className="flex flex-wrap items-center gap-x-3 text-label text-soft">
      <legend className="sr-only">Used in the mixes</legend>
      <span title="The mixes of an item share all that is done to it, but for what is left out of one here">
        used in the mixes
      </span>
      {item.mixes.map((mix) => (
        <label key={mix.name} className="flex items-center gap-1">
          <input
            type="checkbox"
            className="accent-act"
            checked={!isLeftOut(mix, work)}
            onChange={({ target }) =>
              void edit({ type: "leaveOutOfMix", item: item.id, mix: mix.name, work, leftOut: !target.checked })
            }
          />
          {mix.name}
          {mix.source === item.source && " (in force)"}
        </label>
      ))}
    </fieldset>
  );
}
