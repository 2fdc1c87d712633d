/** Figures of each channel, as rows of a table. */
import type { Figures } from "../measure";
import { formatDb } from "../audio/format";
import { layoutForChannels, layoutNamed } from "../audio/layout";

export const CHANNEL_COLUMNS = ["sample peak dBFS", "true peak dBTP", "RMS dBFS", "share of the loudness dB"] as const;

export interface ChannelRow {
  label: string;
  /** In the order of `CHANNEL_COLUMNS`. */
  cells: string[];
}

export function channelRows(figures: Figures): ChannelRow[] {
  const layout = layoutNamed(figures.layout) ?? layoutForChannels(figures.channels);
  const { samplePeakPerChannelDbfs, truePeakPerChannelDbtp, rmsPerChannelDbfs, loudnessSharePerChannelDb } = figures;
  return layout.speakers.map(({ label }, channel) => ({
    label,
    cells: [samplePeakPerChannelDbfs, truePeakPerChannelDbtp, rmsPerChannelDbfs, loudnessSharePerChannelDb].map(
      (levels) => formatDb(levels[channel] ?? null, { digits: 2 }),
    ),
  }));
}
