/** In which order files keep the channels of a layout, by the names that the trade has for these orders. */
import { LAYOUTS, type Layout } from "./layout";

export const CHANNEL_ORDERS = ["SMPTE, BS.2051, ADM", "WAVE mask", "film", "MPEG"] as const;
export type ChannelOrder = (typeof CHANNEL_ORDERS)[number];

const HEIGHTS = ["Ltf", "Rtf", "Ctf", "T", "Ltm", "Rtm", "Ltb", "Rtb", "Ctb", "Cbf", "Lbf", "Rbf"];
const SURROUNDS = ["Ls", "Rs", "Lss", "Rss", "Lb", "Rb"];
const FRONTS = ["Lw", "Rw", "Lc", "Rc", "Cb"];

/** Labels in the order in which each has them. Sources: SMPTE ST 2067-8, ITU-R BS.2051, WAVE_FORMAT_EXTENSIBLE, ISO/IEC 23001-8. */
const RANKS: Readonly<Record<ChannelOrder, readonly string[]>> = {
  "SMPTE, BS.2051, ADM": ["L", "R", "C", "LFE", ...SURROUNDS, ...FRONTS, "LFE2", ...HEIGHTS],
  // The bits of the channel mask; the one surround pair of BS.775 takes the place of the back pair.
  "WAVE mask": [
    ...["L", "R", "C", "LFE", "Lb", "Rb", "Ls", "Rs", "Lc", "Rc", "Cb", "Lss", "Rss", "Lw", "Rw", "LFE2"],
    ...["T", "Ltf", "Ctf", "Rtf", "Ltb", "Ctb", "Rtb", "Ltm", "Rtm", "Cbf", "Lbf", "Rbf"],
  ],
  film: ["L", "Lc", "C", "Rc", "R", ...SURROUNDS, "Cb", "Lw", "Rw", ...HEIGHTS, "LFE", "LFE2"],
  MPEG: ["C", "L", "R", ...SURROUNDS, ...FRONTS, "LFE", "LFE2", ...HEIGHTS],
};

/** A layout with its channels in another order. Its name is kept where one has that order of its own. */
export function inOrder({ name, speakers }: Layout, order: ChannelOrder): Layout {
  const rank = new Map(RANKS[order].map((label, index) => [label, index]));
  const sorted = [...speakers].sort((a, b) => (rank.get(a.label) ?? Infinity) - (rank.get(b.label) ?? Infinity));
  const known = LAYOUTS.find(({ speakers: others }) => others.map(labelOf).join() === sorted.map(labelOf).join());
  return known ?? { name: `${baseName(name)}, ${order} order`, speakers: sorted };
}

const labelOf = ({ label }: { label: string }): string => label;

/** The name without what an order added. */
const baseName = (name: string): string =>
  CHANNEL_ORDERS.reduce((base, order) => base.replace(`, ${order} order`, ""), name);

/** The order that a layout's channels stand in; `null` for one that has no name. */
export function orderOf(layout: Layout): ChannelOrder | null {
  const labels = layout.speakers.map(labelOf).join();
  return CHANNEL_ORDERS.find((order) => inOrder(layout, order).speakers.map(labelOf).join() === labels) ?? null;
}
