"use client";

import { format } from "date-fns";
import { RefreshCw } from "lucide-react";
import type { Deliverable } from "@core/project/document";
import type { AutomaticDelivery } from "@core/project/views";
import { CheckboxField, SelectField } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";
import { useReceivers } from "./use-receivers";

type Automatic = Deliverable["automatic"];

const STUDIO = "";

/** Whether a deliverable is kept up to date by itself, and who is given its masters. */
export function AutomaticFields({
  automatic,
  onChange,
}: {
  automatic: Automatic;
  onChange: (automatic: Automatic) => void;
}) {
  const receivers = useReceivers() ?? [];
  const chosen = receivers.find(({ id }) => id === automatic?.receiver);
  return (
    <div className="mt-2">
      <div className="flex min-h-11 items-end gap-3">
        <CheckboxField
          label="Automatic delivery"
          title="Once nothing was changed for a minute, its masters are rendered, verified, and submitted where they pass"
          checked={automatic !== undefined}
          onChange={(on) => onChange(on ? { receiver: null } : undefined)}
        />
        {automatic && (
          <SelectField
            label="To"
            value={automatic.receiver ?? STUDIO}
            options={{
              [STUDIO]: "nobody: rendered and kept here",
              ...Object.fromEntries(receivers.map(({ id, name }) => [id, name])),
            }}
            order={[STUDIO, ...receivers.map(({ id }) => id)]}
            onChange={(receiver) => onChange({ receiver: receiver === STUDIO ? null : receiver })}
          />
        )}
      </div>
      {chosen && <p className="mt-1 text-label text-soft">{chosen.help}</p>}
    </div>
  );
}

function stateWords({ state, problem, changed_at: at }: AutomaticDelivery, isGiven: boolean): string {
  if (state === "held") return `held: ${problem ?? "look at its masters"}`;
  if (state === "rendering") return problem ? `waits: ${problem}` : "masters are rendered …";
  if (state === "submitting") return "is submitted …";
  return `${isGiven ? "submitted" : "rendered"} at ${format(new Date(at), "HH:mm")}`;
}

/** How far an automatic delivery is, in a line. */
export function AutomaticLine({ deliverable: { id, automatic } }: { deliverable: Deliverable }) {
  const { view } = useCurrentItem();
  const receivers = useReceivers();
  if (!automatic) return null;
  const standing = view.automatic.find((one) => one.deliverable_id === id && one.head === view.head);
  const words = standing ? stateWords(standing, automatic.receiver !== null) : "waits until the project stands still";
  const to = receivers?.find((one) => one.id === automatic.receiver)?.name;
  const title = `Automatic delivery${to ? ` to “${to}”` : ""}: ${words}`;
  return (
    <span
      title={title}
      data-testid="automatic"
      className={`flex items-center gap-1 text-label ${standing?.state === "held" ? "text-outside" : "text-soft"}`}
    >
      <RefreshCw size={11} className="shrink-0" aria-label="Automatic delivery" />
      <span className="truncate">{words}</span>
    </span>
  );
}
