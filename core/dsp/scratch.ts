import { emptyPlanar, framesOf, type Planar } from "../audio/units";

/** Room for a copy of a block that is needed only until the next one: new memory for each block would cost more. */
export class Scratch {
  #room: Planar = [];

  /** A copy of `block`, which the next call overwrites. */
  of(block: Planar): Planar {
    const room = this.#roomFor(block.length, block.length > 0 ? framesOf(block) : 0);
    block.forEach((x, c) => room[c]!.set(x));
    return room;
  }

  #roomFor(channels: number, frames: number): Planar {
    if (this.#room.length !== channels || this.#room[0]?.length !== frames) this.#room = emptyPlanar(channels, frames);
    return this.#room;
  }
}
