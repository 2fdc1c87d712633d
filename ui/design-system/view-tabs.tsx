import { Tabs } from "radix-ui";
import type { ReactNode } from "react";

/** The names of a stage's views in a row; what belongs to a name stands behind it. */
export function ViewTabs<View extends string>({
  label,
  names,
  behind,
}: {
  label: string;
  names: Partial<Record<View, string>>;
  behind?: (view: View) => ReactNode;
}) {
  return (
    <Tabs.List aria-label={label} className="flex h-8 shrink-0 items-stretch gap-1 border-b border-hair px-3">
      {(Object.entries(names) as [View, string][]).map(([view, name]) => (
        <Tabs.Trigger
          key={view}
          value={view}
          className="flex items-center gap-1.5 border-b-2 border-transparent px-2 text-soft hover:text-act data-[state=active]:border-act data-[state=active]:font-semibold data-[state=active]:text-ink"
        >
          {name}
          {behind?.(view)}
        </Tabs.Trigger>
      ))}
    </Tabs.List>
  );
}
