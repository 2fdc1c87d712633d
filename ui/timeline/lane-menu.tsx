"use client";

import { ArrowDown, ArrowUp } from "lucide-react";
import { FREQUENCY_SCALES } from "@core/spectrogram/frequency-rows";
import { formatDb } from "@core/audio/format";
import type { ItemFacts } from "@ui/state/current-item";
import { IconButton } from "@ui/design-system/icon-button";
import { Select, Setting, Slider, CheckboxSetting } from "@ui/design-system/controls";
import { LANE_LABELS, moveLane, setSpectrogram, switchLane, useLanes } from "../state/lane-settings";
import { hertzLabel } from "../state/selection-region";
import { PALETTE_NAMES } from "../canvas/scales";

/** Which lanes are drawn, in which order, and how. */
export function LaneMenu({ facts }: { facts: ItemFacts }) {
  const speakers = facts.source.layout?.speakers ?? [];
  const settings = useLanes();
  const { lanes, picture } = settings;
  return (
    <div className="grid grid-cols-[1fr_1fr] gap-4">
      <section>
        <h2 className="mb-1 font-semibold">Lanes, from above</h2>
        <ul>
          {lanes.map(({ id, on }, index) => (
            <li key={id} className="flex items-center gap-1">
              <label className="flex min-w-0 flex-1 items-center gap-1.5" title={LANE_LABELS[id].help}>
                <input type="checkbox" checked={on} onChange={() => switchLane(id)} className="accent-act" />
                {LANE_LABELS[id].name}
              </label>
              <IconButton
                label={`${LANE_LABELS[id].name} further up`}
                disabled={index === 0}
                onClick={() => moveLane(id, -1)}
              >
                <ArrowUp size={12} />
              </IconButton>
              <IconButton
                label={`${LANE_LABELS[id].name} further down`}
                disabled={index === lanes.length - 1}
                onClick={() => moveLane(id, 1)}
              >
                <ArrowDown size={12} />
              </IconButton>
            </li>
          ))}
        </ul>
        <h2 className="mt-2 mb-1 font-semibold">Waveform</h2>
        <CheckboxSetting
          label="all channels in one row"
          checked={settings.folded}
          onChange={(folded) => useLanes.setState({ folded })}
        />
        <Setting label="ruler">
          <Select
            label="Ruler of the waveform"
            value={settings.ruler}
            options={["db", "linear"] as const}
            words={(ruler) => (ruler === "db" ? "dBFS" : "linear")}
            onChange={(ruler) => useLanes.setState({ ruler })}
          />
        </Setting>
        <Setting label="RMS body over the peaks">
          <Slider
            label="Opacity of the RMS body"
            value={settings.body}
            min={0}
            max={1}
            step={0.05}
            onChange={(body) => useLanes.setState({ body })}
          />
        </Setting>
        <Setting label="waveform over the spectrogram">
          <Slider
            label="Opacity of the waveform over the spectrogram"
            value={settings.overlay}
            min={0}
            max={1}
            step={0.05}
            onChange={(overlay) => useLanes.setState({ overlay })}
          />
        </Setting>
      </section>
      <section>
        <h2 className="mb-1 font-semibold">Spectrogram and constant Q</h2>
        <Setting label="drawn">
          <Select
            label="Kind of spectrogram"
            value={picture.kind}
            options={["spectrogram", "reassigned"] as const}
            words={(kind) => (kind === "reassigned" ? "reassigned (sharper, slower)" : "as it is")}
            onChange={(kind) => setSpectrogram({ kind })}
          />
        </Setting>
        {speakers.length > 1 && (
          <Setting label="of">
            <Select
              label="Channel of the spectrogram"
              value={picture.channel === null || picture.channel >= speakers.length ? -1 : picture.channel}
              options={[-1, ...speakers.keys()]}
              words={(channel) => (channel < 0 ? "all channels" : speakers[channel]!.label)}
              onChange={(channel) => setSpectrogram({ channel: channel < 0 ? null : channel })}
            />
          </Setting>
        )}
        <Setting label="window">
          <Select
            label="Window of the spectrogram"
            value={picture.points}
            options={[256, 512, 1024, 2048, 4096, 8192, 16_384]}
            words={(points) => `${points} samples`}
            onChange={(points) => setSpectrogram({ points })}
          />
        </Setting>
        <Setting label="overlap, when close">
          <Select
            label="Overlap of the windows"
            value={picture.overlap}
            options={[2, 4, 8, 16] as const}
            words={(overlap) => `${(100 * (1 - 1 / overlap)).toFixed(overlap > 8 ? 2 : overlap > 4 ? 1 : 0)} %`}
            onChange={(overlap) => setSpectrogram({ overlap })}
          />
        </Setting>
        <Setting label="frequencies">
          <Select
            label="Frequency scale"
            value={picture.scale}
            options={FREQUENCY_SCALES}
            onChange={(scale) => setSpectrogram({ scale })}
          />
        </Setting>
        <Setting label={`from ${hertzLabel(picture.lowHertz)}`}>
          <Slider
            label="Lowest frequency, octaves above 20 Hz"
            value={Math.log2(picture.lowHertz / 20)}
            min={0}
            max={8}
            step={0.1}
            onChange={(octaves) => setSpectrogram({ lowHertz: Math.min(20 * 2 ** octaves, picture.highHertz / 1.2) })}
          />
        </Setting>
        <Setting label={`to ${hertzLabel(picture.highHertz)}`}>
          <Slider
            label="Highest frequency, octaves above 20 Hz"
            value={Math.log2(picture.highHertz / 20)}
            min={1}
            max={13.2}
            step={0.1}
            onChange={(octaves) => setSpectrogram({ highHertz: Math.max(20 * 2 ** octaves, picture.lowHertz * 1.2) })}
          />
        </Setting>
        <Setting label={`darkest ${formatDb(picture.lowDb, { digits: 0 })} dBFS`}>
          <Slider
            label="Level of the darkest, dBFS"
            value={picture.lowDb}
            min={-150}
            max={-40}
            step={1}
            onChange={(lowDb) => setSpectrogram({ lowDb: Math.min(lowDb, picture.highDb - 6) })}
          />
        </Setting>
        <Setting label={`lightest ${formatDb(picture.highDb, { digits: 0 })} dBFS`}>
          <Slider
            label="Level of the lightest, dBFS"
            value={picture.highDb}
            min={-100}
            max={0}
            step={1}
            onChange={(highDb) => setSpectrogram({ highDb: Math.max(highDb, picture.lowDb + 6) })}
          />
        </Setting>
        <Setting label="colours">
          <Select
            label="Colours of the spectrogram"
            value={picture.palette}
            options={PALETTE_NAMES}
            onChange={(palette) => setSpectrogram({ palette })}
          />
        </Setting>
        <p className="mt-1 text-label text-soft">Alt and wheel over a picture: its frequencies around the pointer.</p>
      </section>
    </div>
  );
}
