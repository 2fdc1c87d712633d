"use client";

import { Settings2 } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { PAUSE_PLACES } from "@core/programme/programme";
import { Button } from "@ui/design-system/button";
import { Select, Setting } from "@ui/design-system/controls";
import { NumberInput } from "@ui/design-system/number-input";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";

/** What holds for the whole: silence at its ends, sectors of a CD, where pauses go in files. */
export function ProgrammeSettings() {
  const { view, edit } = useCurrentItem();
  const { order } = useWholeProgramme();
  const { headSeconds, tailSeconds, cdRule, pauses } = view.document.programme;
  const [gap, setGap] = useState(2);
  const within = (seconds: number) => Math.max(0, Math.min(600, seconds));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button kind="quiet">
          <Settings2 size={14} /> Programme …
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-50 w-80 rounded-[4px] border border-hair bg-sheet p-3"
        >
          <h2 className="mb-1 font-semibold">The whole programme</h2>
          <Setting label="Silence before the first item">
            <span className="w-20">
              <NumberInput
                label="Silence before the first item"
                value={headSeconds}
                unit="s"
                onCommit={(seconds) =>
                  void edit({
                    type: "setProgramme",
                    changes: { headSeconds: within(seconds) },
                    what: `head ${within(seconds)} s`,
                  })
                }
              />
            </span>
          </Setting>
          <Setting label="Silence after the last item">
            <span className="w-20">
              <NumberInput
                label="Silence after the last item"
                value={tailSeconds}
                unit="s"
                onCommit={(seconds) =>
                  void edit({
                    type: "setProgramme",
                    changes: { tailSeconds: within(seconds) },
                    what: `tail ${within(seconds)} s`,
                  })
                }
              />
            </span>
          </Setting>
          <Setting label="In files of the items, pauses go">
            <Select
              label="In files of the items, pauses go"
              value={pauses}
              options={PAUSE_PLACES}
              onChange={(next) =>
                void edit({ type: "setProgramme", changes: { pauses: next }, what: `pauses: ${next}` })
              }
            />
          </Setting>
          <label
            className="flex items-center gap-2 py-1 text-label"
            title="IEC 60908: 75 sectors a second, 588 samples each at 44.1 kHz; at most 99 titles"
          >
            <input
              type="checkbox"
              className="accent-act"
              checked={cdRule}
              onChange={(event) =>
                void edit({
                  type: "setProgramme",
                  changes: { cdRule: event.target.checked },
                  what: event.target.checked ? "titles start on CD sectors" : "titles start anywhere",
                })
              }
            />
            Titles start on whole CD sectors
          </label>
          <div className="mt-1 flex items-center gap-2 border-t border-hair pt-2 text-label">
            <span className="text-soft">All pauses</span>
            <span className="w-20">
              <NumberInput label="Length of all pauses" value={gap} unit="s" onCommit={setGap} />
            </span>
            <Button
              disabled={order.length < 2}
              onClick={() =>
                void edit({
                  type: "placeItems",
                  items: order.slice(1).map(({ id }) => ({
                    item: id,
                    changes: { gapSeconds: Math.max(-600, Math.min(3600, gap)) },
                  })),
                  what: `pause ${gap.toFixed(2)} s`,
                })
              }
            >
              Set all
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
