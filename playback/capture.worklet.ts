/// <reference types="audioworklet" />
/** The audio thread of a recording: hands what comes in to the page, in blocks. */

const BLOCK_FRAMES = 1024;

class Capture extends AudioWorkletProcessor {
  #block: Float32Array<ArrayBuffer>[] = [];
  #filled = 0;

  /** Hot: runs every 128 frames. */
  process(inputs: Float32Array[][]): boolean {
    const input = inputs[0] ?? [];
    if (input.length === 0) return true;
    if (this.#block.length !== input.length) {
      this.#block = input.map(() => new Float32Array(BLOCK_FRAMES));
      this.#filled = 0;
    }
    input.forEach((x, c) => this.#block[c]!.set(x, this.#filled));
    this.#filled += input[0]!.length;
    if (this.#filled < BLOCK_FRAMES) return true;
    this.port.postMessage(
      this.#block,
      this.#block.map((x) => x.buffer),
    );
    this.#block = input.map(() => new Float32Array(BLOCK_FRAMES));
    this.#filled = 0;
    return true;
  }
}

registerProcessor("resonum-capture", Capture);
