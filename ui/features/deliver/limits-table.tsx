"use client";

import { Select } from "@ui/design-system/controls";
import { Plus, Trash2 } from "lucide-react";
import { LIMIT_SCOPES, LIMITED_FIGURE_NAMES, LIMITED_FIGURES, type Limit } from "@core/delivery/spec";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { FIELD, NumberInput } from "./spec-fields";

const SCOPES = { item: "each item", channel: "each channel", album: "the whole order" } as const;

/** Limits of a delivery spec: figure, range, what it holds for, and whether it must be met. */
export function LimitsTable({ limits, onChange }: { limits: Limit[]; onChange: (limits: Limit[]) => void }) {
  const set = (index: number, change: Partial<Limit>) =>
    onChange(limits.map((limit, i) => (i === index ? tidy({ ...limit, ...change }) : limit)));
  return (
    <table className="mt-3 w-full">
      <caption className="text-left text-label text-soft">Limits</caption>
      <thead className="text-left text-label text-soft">
        <tr>
          <th className="font-normal">figure</th>
          <th className="w-16 font-normal">lowest</th>
          <th className="w-16 font-normal">highest</th>
          <th className="w-28 font-normal">of</th>
          <th className="w-16 font-normal">must</th>
          <td className="w-7" />
        </tr>
      </thead>
      <tbody>
        {limits.map((limit, index) => (
          <tr key={index} className="border-t border-grid">
            <td>
              <Select
                label={`Figure of limit ${index + 1}`}
                value={limit.figure}
                options={LIMITED_FIGURE_NAMES}
                words={(figure) => `${LIMITED_FIGURES[figure].label}, ${LIMITED_FIGURES[figure].unit}`}
                onChange={(figure) => set(index, { figure })}
                className={FIELD}
              />
            </td>
            <td>
              <NumberInput
                label={`Lowest of limit ${index + 1}`}
                value={limit.min}
                onChange={(min) => set(index, { min })}
              />
            </td>
            <td>
              <NumberInput
                label={`Highest of limit ${index + 1}`}
                value={limit.max}
                onChange={(max) => set(index, { max })}
              />
            </td>
            <td>
              <Select
                label={`What limit ${index + 1} holds for`}
                value={limit.scope ?? "item"}
                options={LIMIT_SCOPES}
                words={(scope) => SCOPES[scope]}
                onChange={(scope) => set(index, { scope })}
                className={FIELD}
              />
            </td>
            <td className="text-center">
              <input
                type="checkbox"
                className="accent-act"
                aria-label={`Limit ${index + 1} must be met`}
                checked={limit.required}
                onChange={(event) => set(index, { required: event.target.checked })}
              />
            </td>
            <td>
              <IconButton
                label={`Remove limit ${index + 1}`}
                onClick={() => onChange(limits.filter((_, i) => i !== index))}
              >
                <Trash2 size={13} />
              </IconButton>
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={6}>
            <Button
              kind="quiet"
              onClick={() =>
                onChange([
                  ...limits,
                  { figure: "truePeakDbtp", max: -1, required: true, marginalWithin: 0.1, clause: "own" },
                ])
              }
            >
              <Plus size={13} /> Limit
            </Button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}

/** Without what was emptied. */
function tidy(limit: Limit): Limit {
  const { min, max, ...rest } = limit;
  return { ...rest, ...(min === undefined ? {} : { min }), ...(max === undefined ? {} : { max }) };
}
