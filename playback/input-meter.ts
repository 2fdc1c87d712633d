/** Meters on what comes in, whether it is recorded or not: the same as on what is heard. */
import { layoutForChannels, type Layout } from "@core/audio/layout";
import { framesOf, type Hertz, type Planar } from "@core/audio/units";
import { LiveMeter } from "./live-meter";
import { Ring } from "./ring";

export class InputMeter {
  readonly ring: Ring;
  readonly layout: Layout;
  readonly #meter: LiveMeter;

  constructor(
    readonly sampleRate: Hertz,
    channels: number,
  ) {
    this.layout = layoutForChannels(channels);
    this.ring = Ring.create(channels);
    this.ring.playing = true;
    this.#meter = new LiveMeter(this.ring, { sampleRate, layout: this.layout });
  }

  /** Takes in the next block, shorter than the ring. */
  hear(block: Planar): void {
    const { ring } = this;
    const at = ring.read;
    block.forEach((samples, channel) => ring.put(2 + channel, at, samples));
    for (const side of [0, 1]) ring.put(side, at, block[Math.min(side, block.length - 1)]!);
    ring.write = at + framesOf(block);
    ring.advance(framesOf(block));
    this.#meter.update();
  }

  reset(): void {
    this.#meter.reset();
  }
}
