"use client";

import type { MasterFormat } from "@core/delivery/recipe";
import { formatRate } from "@core/audio/format";
import { CONTAINER_ABOUT, CONTAINERS, isLossy, type Container } from "@core/files/containers";
import { CheckboxField, SelectField } from "@ui/design-system/controls";

const RATES = [8000, 11025, 16000, 22050, 32000, 44100, 48000, 88200, 96000, 176400, 192000, 352800, 384000];
const DEPTH_WORDS = { "16": "16 bit", "24": "24 bit", "32": "32 bit", "32f": "32 bit float, nothing clipped" } as const;
const CHANNEL_WORDS = {
  all: "as they are",
  "5.1": "fold to 5.1",
  stereo: "fold to stereo",
  mono: "fold to mono",
} as const;
const DITHER_WORDS = { flat: "flat (TPDF)", shaped: "shaped, heard less", none: "none" } as const;
const PHASE_WORDS = { linear: "linear phase", minimum: "minimum phase" } as const;

/** What a master becomes: kind of file, depth, rate, and how it is converted. */
export function FormatFields({ format, onChange }: { format: MasterFormat; onChange: (format: MasterFormat) => void }) {
  const about = CONTAINER_ABOUT[format.container];
  const set = (change: Partial<MasterFormat>) => onChange({ ...format, ...change });
  const setContainer = (container: Container) => {
    const { depths, bitrateKbps, sampleRates } = CONTAINER_ABOUT[container];
    const { sampleRate: _, ...rest } = format;
    const rate =
      format.sampleRate && (!sampleRates || sampleRates.includes(format.sampleRate)) ? format.sampleRate : null;
    onChange({
      ...rest,
      ...(rate ? { sampleRate: rate } : {}),
      container,
      bitDepth: depths.length === 0 || depths.includes(format.bitDepth) ? format.bitDepth : "24",
      bitrateKbps: bitrateKbps && !bitrateKbps.includes(format.bitrateKbps) ? 192 : format.bitrateKbps,
    });
  };
  const rates = about.sampleRates ? RATES.filter((rate) => about.sampleRates!.includes(rate)) : RATES;
  const dithered = !isLossy(format.container) && format.bitDepth !== "32f" && format.bitDepth !== "32";
  return (
    <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
      <SelectField
        label="Kind of file"
        value={format.container}
        onChange={(value) => setContainer(value as Container)}
        options={Object.fromEntries(CONTAINERS.map((one) => [one, CONTAINER_ABOUT[one].name]))}
      />
      {about.depths.length > 0 && (
        <SelectField
          label="Depth"
          value={format.bitDepth}
          onChange={(bits) => set({ bitDepth: bits as MasterFormat["bitDepth"] })}
          options={Object.fromEntries(about.depths.map((depth) => [depth, DEPTH_WORDS[depth]]))}
        />
      )}
      {about.bitrateKbps && (
        <SelectField
          label="Data rate"
          value={String(format.bitrateKbps)}
          onChange={(bitrateKbps) => set({ bitrateKbps: Number(bitrateKbps) })}
          options={Object.fromEntries(
            about.bitrateKbps.map((bitrateKbps) => [String(bitrateKbps), `${bitrateKbps} kbit/s`]),
          )}
        />
      )}
      {about.variable && (
        <CheckboxField
          label="may vary"
          checked={format.variableBitrate}
          onChange={(variableBitrate) => set({ variableBitrate })}
          title="The rate follows what the sound needs"
        />
      )}
      <SelectField
        label="Sample rate"
        value={String(format.sampleRate ?? 0)}
        onChange={(value) => {
          const { sampleRate: _, ...rest } = format;
          onChange(value === "0" ? rest : { ...rest, sampleRate: Number(value) });
        }}
        options={{
          "0": "as the recording",
          ...Object.fromEntries(rates.map((rate) => [String(rate), formatRate(rate)])),
        }}
        order={["0", ...rates.map(String)]}
      />
      <SelectField
        label="Channels"
        value={format.channels}
        onChange={(channels) => set({ channels: channels as MasterFormat["channels"] })}
        options={CHANNEL_WORDS}
      />
      <SelectField
        label="Rate conversion"
        value={format.phase}
        onChange={(phase) => set({ phase: phase as MasterFormat["phase"] })}
        options={PHASE_WORDS}
      />
      {dithered && (
        <>
          <SelectField
            label="Dither"
            value={format.dither}
            onChange={(dither) => set({ dither: dither as MasterFormat["dither"] })}
            options={DITHER_WORDS}
          />
          <CheckboxField
            label="keep silence"
            checked={format.keepSilence}
            onChange={(keepSilence) => set({ keepSilence })}
            title="Digital silence stays silent: no dither in it"
          />
        </>
      )}
      {format.container === "video" && (
        <SelectField
          label="Sound tracks it had"
          value={format.tracks}
          onChange={(tracks) => set({ tracks: tracks as MasterFormat["tracks"] })}
          options={{ replace: "replaced", keep: "kept behind the new one" }}
        />
      )}
      <p className="w-full text-label text-soft">{about.help}</p>
    </div>
  );
}
