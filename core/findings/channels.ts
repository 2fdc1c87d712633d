import type { ChannelFault } from "../measure/channel-faults";
import { formatDb } from "../audio/format";
import type { Finder, Finding } from "./finding";

const UNEQUAL_LU = 1.5;
const OPPOSED = -0.2;
const MONO_LOSS_LU = 6;

type Words = Pick<Finding, "title" | "facts" | "advice" | "severity">;

const FAULT_WORDS: Record<ChannelFault["kind"], (fault: ChannelFault) => Words> = {
  dead: ({ channel }) => ({
    severity: "fault",
    title: `${channel} is dead`,
    facts: "Below −90 dBFS throughout, while others sound.",
    advice: "Take the mono signal of the other side, or ask for the recording again.",
  }),
  duplicate: ({ channel, other }) => ({
    severity: "doubt",
    title: `${channel} is the same as ${other}`,
    facts: "Correlation above 0.9999 at the same level.",
    advice: "If it is meant to be mono, deliver it as mono; otherwise one side was lost.",
  }),
  inverted: ({ channel, other }) => ({
    severity: "fault",
    title: `${channel} is inverted against ${other}`,
    facts: "Correlation below −0.9: in mono the two cancel.",
    advice: "Turn the polarity of one of them.",
  }),
  quieter: ({ channel, other, belowDb }) => ({
    severity: "doubt",
    title: `${channel} is ${formatDb(belowDb)} dB below ${other}`,
    facts: "RMS over the whole recording.",
    advice: "Bring the sides to the same level, if the picture is not meant to lean.",
  }),
  swapped: ({ channel, other }) => ({
    severity: "fault",
    title: `${channel} carries full-range sound`,
    facts: other ? `${other} holds only what is below 250 Hz.` : "More than half of its energy is above 250 Hz.",
    advice: other ? `Exchange ${channel} and ${other}, or choose another layout.` : "Check the order of the channels.",
  }),
};

export const channels: readonly Finder[] = [
  {
    kind: "channel",
    find: ({ channelFaults }) =>
      channelFaults.map((fault) => ({ about: fault.channel, places: [], ...FAULT_WORDS[fault.kind](fault) })),
  },
  {
    kind: "balance",
    find({ balanceLu, channelFaults }) {
      if (balanceLu === null || Math.abs(balanceLu) < UNEQUAL_LU || channelFaults.length > 0) return [];
      return [
        {
          about: null,
          severity: "doubt",
          title: `The ${balanceLu > 0 ? "left" : "right"} side is louder`,
          facts: `By ${formatDb(Math.abs(balanceLu))} LU over the whole.`,
          advice: "Level the sides, if the picture is not meant to lean.",
          places: [],
        },
      ];
    },
  },
  {
    kind: "mono",
    find({ correlation, monoLossLu, channelFaults }) {
      const inverted = channelFaults.some(({ kind }) => kind === "inverted");
      if (inverted || correlation === null || correlation > OPPOSED) return [];
      const loss =
        monoLossLu !== null && monoLossLu > MONO_LOSS_LU ? `${formatDb(monoLossLu)} LU are lost in mono.` : "";
      return [
        {
          about: null,
          severity: "doubt",
          title: "The sides oppose each other",
          facts: `Correlation ${formatDb(correlation, { sign: true, digits: 2 })}. ${loss}`.trim(),
          advice: "Listen in mono; narrow what is too wide.",
          places: [],
        },
      ];
    },
  },
];
