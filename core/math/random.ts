/** A seeded generator of 32-bit integers (xorshift128, Marsaglia 2003): the same seed gives the same noise anywhere. */
export class Random {
  #x: number;
  #y: number;
  #z: number;
  #w: number;

  constructor(seed: number) {
    let s = (seed ^ 0x9e3779b9) >>> 0;
    const next = () => {
      s = (s + 0x6d2b79f5) >>> 0; // mulberry32, to spread small seeds over the state
      let t = Math.imul(s ^ (s >>> 15), s | 1);
      t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
      return (t ^ (t >>> 14)) >>> 0;
    };
    this.#x = next();
    this.#y = next();
    this.#z = next();
    this.#w = next() | 1;
  }

  /** All that what comes next depends on. */
  get state(): readonly number[] {
    return [this.#x >>> 0, this.#y >>> 0, this.#z >>> 0, this.#w >>> 0];
  }

  /** Uniform in 0…2³²−1. */
  nextUint32(): number {
    const t = this.#x ^ (this.#x << 11);
    this.#x = this.#y;
    this.#y = this.#z;
    this.#z = this.#w;
    this.#w = (this.#w ^ (this.#w >>> 19) ^ t ^ (t >>> 8)) >>> 0;
    return this.#w;
  }

  /** Uniform in [0, 1). */
  next(): number {
    return this.nextUint32() / 4294967296;
  }

  /** Uniform in [low, high). */
  between(low: number, high: number): number {
    return low + (high - low) * this.next();
  }
}
