"use client";

import { Select } from "@ui/design-system/controls";
import { ArrowDown, ArrowUp, Volume2 } from "lucide-react";
import { useState } from "react";
import type { Source } from "@core/project/views";
import {
  layoutSchema,
  LAYOUTS,
  loudnessWeight,
  speakerOf,
  SPEAKER_LABELS,
  type Layout,
  type Speaker,
} from "@core/audio/layout";
import { CHANNEL_ORDERS, inOrder, orderOf, type ChannelOrder } from "@core/audio/channel-orders";
import { counted } from "@core/audio/format";
import { useCurrentItem } from "@ui/state/current-item";
import { engine, useEngineState } from "@ui/state/listening-engine";
import { togglePlay } from "@ui/state/use-monitor-source";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";

const OWN = "own table";

/** Which channel is which: a layout that fits, or a table of one's own. Asked once; the recording is measured anew. */
export function LayoutDialog({
  source,
  channels,
  alike,
  onChoose,
  onClose,
}: {
  source: Source;
  channels: number;
  /** How many other recordings of the project have as many channels. */
  alike: number;
  /** @param forAll whether it is meant for those as well */
  onChoose: (layout: Layout, forAll: boolean) => void;
  onClose: () => void;
}) {
  const [forAll, setForAll] = useState(false);
  const alone = useAlone(source);
  const fitting = LAYOUTS.filter(({ speakers }) => speakers.length === channels);
  const [name, setName] = useState(source.layout?.name ?? OWN);
  const [speakers, setSpeakers] = useState<Speaker[]>(source.layout?.speakers ?? []);
  const problem = problemOf(speakers);
  const change = (index: number, next: Partial<Speaker>) => {
    setName(OWN);
    setSpeakers((list) => list.map((speaker, i) => (i === index ? { ...speaker, ...next } : speaker)));
  };
  const swap = (a: number, b: number) => {
    setName(OWN);
    setSpeakers((list) => list.map((speaker, i) => (i === a ? list[b]! : i === b ? list[a]! : speaker)));
  };
  const preset = (wanted: string) => {
    setName(wanted);
    const found = fitting.find((one) => one.name === wanted);
    if (found) setSpeakers(found.speakers);
  };
  const choose = () => {
    const labels = speakers.map(({ label }) => label).join(" ");
    onChoose(layoutSchema.parse({ name: name === OWN ? labels : name, speakers }), forAll);
  };
  const order = orderOf({ name, speakers });
  const reorder = (wanted: ChannelOrder) => {
    const next = inOrder({ name: name === OWN ? "table" : name, speakers }, wanted);
    setName(next.name);
    setSpeakers(next.speakers);
  };
  return (
    <SheetDialog
      open
      onClose={() => {
        alone.end();
        onClose();
      }}
      title="Channel layout"
      help="Loudness, fold-downs and directions depend on it. It is remembered with the recording, which is measured again."
    >
      <div className="mb-2 flex items-center gap-3">
        <Select
          label="Layout"
          value={name}
          options={[...new Set([name, ...fitting.map((one) => one.name), OWN])]}
          onChange={preset}
          className="h-7"
        />
        <label className="flex items-center gap-1.5 text-soft" title="The order in which the file keeps its channels">
          in the order of
          <Select
            label="Order of the channels"
            value={order ?? ""}
            options={[...(order === null ? ([""] as const) : []), ...CHANNEL_ORDERS]}
            words={(one) => one || "the table"}
            onChange={(one) => one && reorder(one)}
            className="h-7 text-ink"
          />
        </label>
        <Button kind="main" disabled={problem !== null} onClick={choose}>
          Apply and measure
        </Button>
      </div>
      {problem && <p className="text-outside">{problem}</p>}
      {alike > 0 && (
        <label className="mb-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-act"
            checked={forAll}
            onChange={(event) => setForAll(event.target.checked)}
          />
          the same for {counted(alike, "other recording")} of {channels} channels
        </label>
      )}
      <datalist id="speaker-labels">
        {SPEAKER_LABELS.map((label) => (
          <option key={label} value={label}>
            {label}
          </option>
        ))}
      </datalist>
      <table className="w-full" data-testid="layout-table">
        <thead className="text-left text-label text-soft">
          <tr className="[&>th]:font-normal">
            <th>channel</th>
            <th>label</th>
            <th>azimuth, ° to the left</th>
            <th>elevation, °</th>
            <th>LFE</th>
            <th title="Weight in loudness by BS.1770-5, from the direction">weight</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {speakers.map((speaker, index) => (
            <tr key={index} className="h-[26px] border-t border-grid">
              <td className="figure whitespace-nowrap">
                {alone.canHear ? (
                  <button
                    type="button"
                    aria-pressed={alone.channel === index}
                    aria-label={`Hear channel ${index + 1} alone`}
                    title="Heard alone, from the playhead on; once more: all"
                    onClick={() => alone.hear(index)}
                    className={`flex items-center gap-1 rounded-[3px] px-1 text-act ${alone.channel === index ? "bg-act-ground font-semibold" : "hover:bg-act-ground"}`}
                  >
                    <Volume2 size={12} aria-hidden /> {index + 1}
                  </button>
                ) : (
                  index + 1
                )}
              </td>
              <td>
                <input
                  aria-label={`Label of channel ${index + 1}`}
                  list="speaker-labels"
                  value={speaker.label}
                  onChange={(event) => change(index, speakerOf(event.target.value) ?? { label: event.target.value })}
                  className="figure h-5.5 w-20 rounded-[4px] border border-hair bg-sheet px-1"
                />
              </td>
              <td>
                <Degrees
                  label={`Azimuth of channel ${index + 1}`}
                  degrees={speaker.azimuth}
                  most={180}
                  onChange={(azimuth) => change(index, { azimuth })}
                />
              </td>
              <td>
                <Degrees
                  label={`Elevation of channel ${index + 1}`}
                  degrees={speaker.elevation}
                  most={90}
                  onChange={(elevation) => change(index, { elevation })}
                />
              </td>
              <td>
                <input
                  type="checkbox"
                  aria-label={`Channel ${index + 1} is an LFE`}
                  checked={speaker.lfe}
                  onChange={(event) => change(index, { lfe: event.target.checked })}
                />
              </td>
              <td className="figure">{loudnessWeight(speaker)}</td>
              <td className="text-right whitespace-nowrap">
                <IconButton
                  label={`Channel ${index + 1} earlier`}
                  disabled={index === 0}
                  onClick={() => swap(index, index - 1)}
                >
                  <ArrowUp size={13} />
                </IconButton>
                <IconButton
                  label={`Channel ${index + 1} later`}
                  disabled={index === speakers.length - 1}
                  onClick={() => swap(index, index + 1)}
                >
                  <ArrowDown size={13} />
                </IconButton>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </SheetDialog>
  );
}

/** Lets one channel of a recording be heard alone, where an item is made of it. */
function useAlone({ hash }: Source) {
  const { view } = useCurrentItem();
  const { playing } = useEngineState();
  const solo = useWorkspace((workspace) => workspace.monitor.solo);
  const item = view.document.items.find((one) => one.source === hash);
  const [before] = useState(() => useWorkspace.getState().monitor);
  const channel = playing && solo.length === 1 ? solo[0]! : null;
  return {
    canHear: item !== undefined,
    channel,
    hear(index: number) {
      openItem(item!.id);
      const { monitor } = useWorkspace.getState();
      const isHeard = channel === index;
      useWorkspace.setState({ monitor: { ...monitor, mute: [], solo: isHeard ? [] : [index] } });
      if (isHeard || !playing) togglePlay();
    },
    end() {
      useWorkspace.setState({ monitor: before });
      if (channel !== null) engine().pause();
    },
  };
}

/** What stands against the table, in words. */
function problemOf(speakers: readonly Speaker[]): string | null {
  const parsed = layoutSchema.safeParse({ name: "x", speakers });
  if (!parsed.success) return "Labels have 1 to 12 letters; azimuths lie within 180°, elevations within 90°.";
  const labels = speakers.map(({ label }) => label);
  const twice = labels.find((label, i) => labels.indexOf(label) !== i);
  return twice === undefined ? null : `Two channels are called ${twice}.`;
}

function Degrees({
  label,
  degrees,
  most,
  onChange,
}: {
  label: string;
  degrees: number;
  most: number;
  onChange: (degrees: number) => void;
}) {
  return (
    <input
      type="number"
      aria-label={label}
      value={degrees}
      min={-most}
      max={most}
      onChange={(event) => onChange(event.target.valueAsNumber)}
      className="figure h-5.5 w-18 rounded-[4px] border border-hair bg-sheet px-1"
    />
  );
}
