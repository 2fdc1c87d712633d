import { framesOf, type Frames, type Planar } from "../signal/units";
import type { Stage } from "./stage";

/** Short fades where an item cuts into its source, so that a cut does not click. */
export class FadeStage implements Stage {
  #position = 0;

  /** @param total frames that will pass; `fadeIn` and `fadeOut` are 0 where the source itself begins or ends */
  constructor(
    readonly total: Frames,
    readonly fadeIn: Frames,
    readonly fadeOut: Frames,
  ) {}

  push(block: Planar): Planar {
    const frames = framesOf(block);
    const first = this.#position;
    this.#position += frames;
    const outStart = this.total - this.fadeOut;
    if (first >= this.fadeIn && first + frames <= outStart) return block;
    return block.map((channel) => {
      const faded = channel.slice();
      for (let i = 0; i < frames; i++) {
        const frame = first + i;
        if (frame < this.fadeIn) faded[i]! *= (frame + 1) / (this.fadeIn + 1);
        if (frame >= outStart) faded[i]! *= (this.total - frame) / (this.fadeOut + 1);
      }
      return faded;
    });
  }

  finish(): Planar {
    return [];
  }
}
