"use client";

import { Scissors } from "lucide-react";
import { useState, type ReactNode } from "react";
import { formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { Select, Setting, CheckboxSetting } from "@ui/design-system/controls";
import { editActionsOf, FILL_MODES, useClipboard, useCutSettings, type EditActions } from "@ui/state/edit-actions";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { Panel } from "../../design-system/panel";
import { CutList } from "./cut-list";
import { CrossfadeSetting } from "./crossfade-setting";
import { RoomTone } from "./room-tone";

/** What the item is made of: taking out, putting in, moving, and every cut there is. */
export function CutsView({ facts }: { facts: ItemFacts }) {
  const { edit } = useCurrentItem();
  const cutting = editActionsOf(facts, edit);
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,340px)_minmax(0,1fr)] divide-x divide-hair">
      <Panel title="Cut and put in" aside={<Whole facts={facts} />}>
        <Actions facts={facts} cutting={cutting} />
      </Panel>
      <CutList facts={facts} cutting={cutting} />
    </div>
  );
}

function Whole({ facts }: { facts: ItemFacts }) {
  const { recorded, frames } = facts.editList;
  const words = (count: number) => formatTime(count / facts.sampleRate, 2);
  return <span className="figure text-label">{`${words(frames)} of ${words(recorded)} used`}</span>;
}

const Row = ({ children }: { children: ReactNode }) => <div className="flex flex-wrap gap-1.5 py-1">{children}</div>;

function Actions({ facts, cutting }: { facts: ItemFacts; cutting: EditActions }) {
  const selection = useWorkspace((workspace) => workspace.selection);
  const { fill, crossfade, hear } = useCutSettings();
  const copied = useClipboard();
  const [seconds, setSeconds] = useState(0.5);
  const pasteable = copied.recording === facts.source.hash;
  return (
    <>
      <p className="py-1 text-label text-soft">
        {selection
          ? `Selected: ${formatTime(selection.start, 3)} to ${formatTime(selection.end, 3)}, ${(selection.end - selection.start).toFixed(3)} s.`
          : "Drag in the programme view to select; , and . set the ends at the playhead while listening."}{" "}
        The recording is never changed: each cut can be opened again.
      </p>
      <Row>
        <Button
          kind="main"
          disabled={!selection}
          onClick={() => cutting.cutOut(fill)}
          shortcut="Delete"
          hint="Takes the selection out; what follows moves up, unless something is left in its place"
        >
          <Scissors size={14} /> Cut out
        </Button>
        <Setting label="leave">
          <Select
            label="What is left where something is cut out"
            value={fill}
            options={FILL_MODES}
            onChange={(next) => useCutSettings.setState({ fill: next })}
          />
        </Setting>
        <Button disabled={!selection} onClick={() => cutting.keepOnly()} hint="Takes off what lies before and behind">
          Trim to the selection
        </Button>
      </Row>
      <Row>
        <Button disabled={!selection} onClick={() => cutting.copy()} shortcut="Ctrl C" hint="To be put in elsewhere">
          Copy
        </Button>
        <Button
          disabled={!pasteable}
          onClick={() => cutting.paste()}
          shortcut="Ctrl V"
          hint={
            copied.recording && !pasteable
              ? "What was copied belongs to another recording"
              : "At the playhead, or in the place of the selection"
          }
        >
          Paste
        </Button>
        <Button
          disabled={!selection}
          onClick={() => cutting.move()}
          shortcut="Shift V"
          hint="Takes the selection to the playhead; the time ruler sets it and keeps the selection"
        >
          Move to the playhead
        </Button>
      </Row>
      <Row>
        <Button onClick={() => cutting.trim("head")} hint="What lies before the playhead">
          Trim the head
        </Button>
        <Button onClick={() => cutting.trim("tail")} hint="What lies behind the playhead">
          Trim the tail
        </Button>
      </Row>
      <Row>
        <Button onClick={() => cutting.insert("silence", seconds)} hint="At the playhead">
          Insert silence
        </Button>
        <RoomTone facts={facts} insert={() => cutting.insert("room tone", seconds)} />
        <Setting label="of">
          <Select
            label="Length of what is put in"
            value={seconds}
            options={[0.1, 0.25, 0.5, 1, 2, 3, 5]}
            words={(s) => `${s} s`}
            onChange={setSeconds}
          />
        </Setting>
      </Row>
      <div className="mt-1 border-t border-grid pt-1">
        <CrossfadeSetting
          words="new crossfades"
          crossfade={crossfade}
          onChange={(next) => useCutSettings.setState({ crossfade: next })}
        />
        <CheckboxSetting
          label="hear the place after each edit"
          checked={hear}
          onChange={(next) => useCutSettings.setState({ hear: next })}
        />
      </div>
    </>
  );
}
