"use client";

import { ArrowDown, ArrowUp } from "lucide-react";
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
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { SheetDialog } from "@ui/design-system/sheet-dialog";

const OWN = "own table";

/** Which channel is which: a layout that fits, or a table of one's own. Asked once; the recording is measured anew. */
export function LayoutDialog({
  source,
  channels,
  onChoose,
  onClose,
}: {
  source: Source;
  channels: number;
  onChoose: (layout: Layout) => void;
  onClose: () => void;
}) {
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
    onChoose(layoutSchema.parse({ name: name === OWN ? labels : name, speakers }));
  };
  return (
    <SheetDialog
      open
      onClose={onClose}
      title="Channel layout"
      help="Loudness, fold-downs and directions depend on it. It is remembered with the recording, which is measured again."
    >
      <div className="mb-2 flex items-center gap-3">
        <select
          aria-label="Layout"
          value={name}
          onChange={(event) => preset(event.target.value)}
          className="h-7 rounded-[4px] border border-hair bg-sheet px-1"
        >
          {!fitting.some((one) => one.name === name) && name !== OWN && <option>{name}</option>}
          {fitting.map((one) => (
            <option key={one.name}>{one.name}</option>
          ))}
          <option>{OWN}</option>
        </select>
        <Button kind="main" disabled={problem !== null} onClick={choose}>
          Apply and measure
        </Button>
        {problem && <span className="text-outside">{problem}</span>}
      </div>
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
              <td className="figure">{index + 1}</td>
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
