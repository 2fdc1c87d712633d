import { dbToGain } from "../audio/decibel";
import { formatDb } from "../audio/format";
import { slicePlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { DelayLine } from "../dsp/delay-line";
import { Oversampled } from "../dsp/oversampling";
import { choice, number, type SettingsOf } from "../parameters/parameter";
import type { Processor, ProcessorDefinition } from "./processor";
import { waveshaped } from "./saturation";

/** Simulated devices on the loop: what their converters delay, and what they do to the sound. */
export const DEVICES = {
  wire: { words: "a wire: nothing but its converters", trip: 0.0021 },
  amber: { words: "Amber line amplifier (simulated)", trip: 0.0027 },
  lantern: { words: "Lantern shelf filter (simulated)", trip: 0.0034 },
} as const;
export type Device = keyof typeof DEVICES;

const parameters = {
  device: choice("Device", "What the loop goes through; simulated devices ship with the application", {
    wire: DEVICES.wire.words,
    amber: DEVICES.amber.words,
    lantern: DEVICES.lantern.words,
  }),
  sendDb: number("Send", "Level to the device", { unit: "dB", min: -24, max: 24, step: 0.1, default: 0 }),
  returnDb: number("Return", "Level from the device", { unit: "dB", min: -24, max: 24, step: 0.1, default: 0 }),
  tripSamples: number("Round trip", "Delay of converters and device, measured by a click; compensated", {
    unit: "samples",
    min: 0,
    max: 20000,
    step: 1,
    default: 0,
  }),
};

const AMPLIFIER_DRIVE = 0.35;
const SHELF_HERTZ = 9000;

interface Simulated {
  process(block: Planar): void;
  own: Frames;
}

/** The device itself: it delays by its round trip and does what it does. */
function simulated(device: Device, channels: number, rate: Hertz): Pick<Processor, "state"> & Simulated {
  const trip = Math.round(DEVICES[device].trip * rate);
  const delays = Array.from({ length: channels }, () => new DelayLine(trip));
  if (device === "wire")
    return { own: trip, state: delays, process: (block) => block.forEach((x, c) => delays[c]!.process(x)) };
  if (device === "lantern") {
    const roof = new BiquadFilter(butterworth("low", Math.min(SHELF_HERTZ, 0.4 * rate), 2, rate), channels);
    return {
      own: trip,
      state: [...delays, roof],
      process(block) {
        block.forEach((x, c) => delays[c]!.process(x));
        const low = block.map((x) => x.slice());
        roof.process(low);
        // A soft shelf: half of what lies above stays.
        block.forEach((x, c) => x.forEach((v, i) => (x[i] = 0.5 * (v + low[c]![i]!))));
      },
    };
  }
  const lines = Array.from(
    { length: channels },
    () =>
      new Oversampled(2, rate, {
        reference(x) {
          for (let i = 0; i < x.length; i++) x[i] = waveshaped(x[i]! * AMPLIFIER_DRIVE) / AMPLIFIER_DRIVE - x[i]!;
        },
      }),
  );
  return {
    own: trip + lines[0]!.latency,
    state: [...delays, ...lines],
    process(block) {
      block.forEach((x, c) => {
        delays[c]!.process(x);
        lines[c]!.process(x);
      });
    },
  };
}

/** The round trip of a device in samples, by sending a click and looking for the loudest sample that comes back. */
export function measuredRoundTrip(device: Device, rate: Hertz): Frames {
  const click = new Float32Array(Math.round(rate / 10));
  click[0] = 0.5;
  simulated(device, 1, rate).process([click]);
  let [at, most] = [0, 0];
  click.forEach((v, i) => {
    if (Math.abs(v) > most) [at, most] = [i, Math.abs(v)];
  });
  return at;
}

/** Sends the sound through an outside device and takes it back, in time. */
export const outboard: ProcessorDefinition<typeof parameters> = {
  id: "outboard",
  name: "Hardware insert",
  group: "loop",
  help: "Sends the sound through an external device and back; the round trip is measured and compensated",
  keywords: "hardware insert external analogue analog outboard send return device",
  parameters,
  commonControls: "all",
  memory: 1,
  // A wire, with its round trip at 48 kHz measured.
  neutral: { tripSamples: 101 },
  create({ device, sendDb, returnDb, tripSamples }, { sampleRate, layout }) {
    const channels = layout.speakers.length;
    const send = dbToGain(sendDb);
    const back = dbToGain(returnDb);
    const loop = simulated(device, channels, sampleRate);
    return {
      // What was measured is taken back; nothing measured, nothing taken back.
      latency: tripSamples,
      ...(loop.state ? { state: loop.state } : {}),
      process(given, frames) {
        const block = slicePlanar(given, 0, frames);
        if (send !== 1) for (const x of block) for (let i = 0; i < frames; i++) x[i] = x[i]! * send;
        loop.process(block);
        if (back !== 1) for (const x of block) for (let i = 0; i < frames; i++) x[i] = x[i]! * back;
      },
    };
  },
  automatable: ["sendDb", "returnDb"],
  predict(levels, { sendDb, returnDb }) {
    const moved = (value: number) => value + sendDb + returnDb;
    return { ...levels, peakDb: levels.peakDb.map(moved), momentaryLufs: levels.momentaryLufs.map(moved) };
  },
  summary: ({ device, sendDb, tripSamples }: SettingsOf<typeof parameters>) =>
    `${device}, send ${formatDb(sendDb, { sign: true })} dB${tripSamples === 0 ? ", delay not measured" : ""}`,
  presets: [],
};
