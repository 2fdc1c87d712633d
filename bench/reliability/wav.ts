/** A second or two of noise, another for each seed. */
import { MemorySink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import { Random } from "@core/math/random";
import { layoutForChannels } from "@core/audio/layout";

export async function wavOf(seed: number): Promise<Buffer> {
  const random = new Random(seed);
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: 48_000, layout: layoutForChannels(1), format: "24" });
  const frames = 48_000 + 1000 * (seed % 50);
  await writer.writeIntegers(
    [Int32Array.from({ length: frames }, () => Math.round(random.between(-2e6, 2e6)))],
    frames,
  );
  await writer.finish();
  return Buffer.from(sink.bytes());
}
