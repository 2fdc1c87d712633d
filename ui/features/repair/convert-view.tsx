"use client";

import { useState } from "react";
import { conversionSchema, type Conversion } from "@core/convert/conversion";
import type { NumberParameter } from "@core/parameters/parameter";
import { formatDb, formatTime } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { NumberField } from "@ui/design-system/number-field";
import { Select, Setting, CheckboxSetting } from "@ui/design-system/controls";
import { ConversionRow } from "@ui/features/intake/conversion-row";
import { convert, useConversions } from "@ui/state/conversions";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import { Panel } from "../../design-system/panel";
import { useBetterChannel } from "./better-channel";

const TEMPO: NumberParameter = {
  kind: "number",
  label: "Tempo",
  help: "Faster or slower at its own pitch",
  unit: "%",
  min: 25,
  max: 400,
  step: 0.5,
  scale: "log",
  default: 100,
};
const PITCH: NumberParameter = {
  kind: "number",
  label: "Pitch",
  help: "Higher or lower in its own time",
  unit: "st",
  min: -12,
  max: 12,
  step: 0.01,
  scale: "linear",
  default: 0,
};
const RATES = [22_050, 32_000, 44_100, 48_000, 88_200, 96_000, 192_000];
const METHOD_WORDS = { music: "music: many sounds at once", voice: "one voice: waveforms laid together" } as const;

/** Another recording of this item: one side, the mean, split, another rate, tempo or pitch. The item stays as it is. */
export function ConvertView({ facts }: { facts: ItemFacts }) {
  const { item, source, sampleRate, duration } = facts;
  const { view } = useCurrentItem();
  const [conversion, setConversion] = useState<Conversion>(() => conversionSchema.parse({}));
  const batches = useConversions((now) => now.batches).filter(({ project }) => project === view.id);
  const speakers = source.layout?.speakers ?? [];
  const better = useBetterChannel(facts);
  const set = (change: Partial<Conversion>) => setConversion({ ...conversion, ...change });
  const { channels, tempo, semitones, formants, method } = conversion;
  const rate = conversion.sampleRate ?? sampleRate;
  const same = channels === "all" && tempo === 1 && semitones === 0 && rate === sampleRate;

  const make = (list: { conversion: Conversion; name: string }[]) => {
    if (!source.pcm_hash || !source.layout) return;
    const of = {
      url: soundUrl(source.pcm_hash),
      layout: source.layout,
      repairs: item.repairs,
      clips: item.clips ?? null,
    };
    void convert(
      view.id,
      list.map((one) => ({ name: one.name, request: { ...of, conversion: one.conversion } })),
    );
  };
  const words = [
    channels === "mean" ? "mono" : typeof channels === "number" ? (speakers[channels]?.label ?? "") : "",
    tempo === 1 ? "" : `${Number((100 * tempo).toFixed(1))} % tempo`,
    semitones === 0 ? "" : `${formatDb(semitones, { sign: true, digits: 2 })} semitones`,
    rate === sampleRate ? "" : `${rate / 1000} kHz`,
  ].filter(Boolean);
  return (
    <div className="grid h-full min-h-0 grid-cols-2 divide-x divide-hair">
      <Panel title="Tempo, pitch, rate" aside={`${formatTime(duration / tempo, 2)} long`}>
        <NumberField
          id="tempo"
          parameter={TEMPO}
          setting={tempo * 100}
          onMove={(percent) => set({ tempo: percent / 100 })}
          onCommit={(percent) => set({ tempo: percent / 100 })}
        />
        <NumberField
          id="pitch"
          parameter={PITCH}
          setting={semitones}
          onMove={(next) => set({ semitones: next })}
          onCommit={(next) => set({ semitones: next })}
        />
        <Setting label="made for">
          <Select
            label="Method"
            value={method}
            options={["music", "voice"] as const}
            words={(one) => METHOD_WORDS[one]}
            onChange={(next) => set({ method: next })}
          />
        </Setting>
        {method === "music" && (
          <CheckboxSetting
            label="formants stay where they are"
            checked={formants}
            onChange={(on) => set({ formants: on })}
          />
        )}
        <Setting label="sample rate">
          <Select
            label="Sample rate"
            value={rate}
            options={[...new Set([...RATES, sampleRate])].sort((a, b) => a - b)}
            words={(hz) => `${hz / 1000} kHz${hz === sampleRate ? ", as it is" : ""}`}
            onChange={(hz) => set({ sampleRate: hz })}
          />
        </Setting>
      </Panel>
      <Panel title="Channels" aside={`${speakers.length} of them`}>
        <Setting label="the new recording has">
          <Select
            label="Channels"
            value={String(channels)}
            options={["all", ...(speakers.length > 1 ? ["mean", ...speakers.map((_, c) => String(c))] : [])]}
            words={(one) =>
              one === "all"
                ? "all channels"
                : one === "mean"
                  ? "the mean of all"
                  : `${speakers[Number(one)]!.label} alone${better?.channel === Number(one) ? " · the better side" : ""}`
            }
            onChange={(one) => set({ channels: one === "all" || one === "mean" ? one : Number(one) })}
          />
        </Setting>
        {better && <p className="py-1 text-label text-soft">{better.words}</p>}
        <p className="py-1 text-label text-soft">
          Made of the item as it is after its cuts and repairs, before the chain; this item stays as it is. Sides at
          unlike levels, inverted or late are set right by a step: “Sides”.
        </p>
        <div className="flex flex-wrap gap-1.5 pt-1">
          <Button
            kind="main"
            disabled={same}
            onClick={() => make([{ conversion, name: [item.name, ...words].join(", ") }])}
            hint="Takes it in as a recording of its own, at the end of the running order"
          >
            Make a new recording
          </Button>
          {speakers.length > 1 && (
            <Button
              onClick={() =>
                make(
                  speakers.map(({ label }, c) => ({
                    conversion: { ...conversion, channels: c },
                    name: `${item.name}, ${label}`,
                  })),
                )
              }
              hint="One recording of each channel"
            >
              Split into {speakers.length}
            </Button>
          )}
        </div>
        {batches.map((batch) => (
          <ConversionRow key={batch.id} batch={batch} />
        ))}
        {batches.length > 0 && (
          <p className="text-label text-soft">It goes on while other things are looked at; Intake shows it, too.</p>
        )}
      </Panel>
    </div>
  );
}
