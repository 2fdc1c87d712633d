import type { AnalogueBiquad } from "../dsp/analogue-filter";
import { BiquadCascade } from "../dsp/biquad-cascade";
import { matchedFilter } from "../dsp/matched-filter";
import type { Parameters, SettingsOf } from "../parameters/parameter";
import { predictTone } from "./predict-tone";
import type { ProcessorDefinition } from "./processor";

/** All that a processor is whose settings stand for analogue sections in a row, without delay. */
export const toneProcessor = <P extends Parameters>(
  sections: (settings: SettingsOf<P>) => readonly AnalogueBiquad[],
): Pick<ProcessorDefinition<P>, "create" | "predict"> & {
  visualiser: { kind: "response"; sections: typeof sections };
} => ({
  visualiser: { kind: "response", sections },
  create(settings, { sampleRate, layout }) {
    const matched = matchedFilter(sections(settings), sampleRate);
    if (!matched) return { latency: 0, process: () => undefined };
    const cascade = new BiquadCascade(matched, layout.speakers.length);
    return { latency: 0, state: [cascade], process: (block, frames) => cascade.process(block, frames) };
  },
  predict: (levels, settings) => predictTone(levels, sections(settings)),
});
