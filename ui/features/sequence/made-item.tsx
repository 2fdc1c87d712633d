"use client";

import { Popover } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { MemorySink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import { layoutNamed } from "@core/audio/layout";
import { framesOf } from "@core/audio/units";
import { MADE_SOUNDS, makeSound, type MadeSettings, type MadeSound } from "@core/programme/made-sounds";
import { uploadFiles } from "@ui/api/uploads";
import { Button } from "@ui/design-system/button";
import { Select, Setting } from "@ui/design-system/controls";
import { NumberInput } from "@ui/design-system/number-input";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";

const KINDS = Object.keys(MADE_SOUNDS) as MadeSound[];
const NOISES: readonly MadeSound[] = ["pink", "white", "silence", "sweep"];

/** The sound as a file, which is taken in like any recording. */
async function fileOf(settings: MadeSettings, sampleRate: number, layoutName: string): Promise<File> {
  const layout = layoutNamed(layoutName) ?? layoutNamed("stereo")!;
  const block = makeSound(settings, layout, sampleRate);
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate, layout, format: "32f" });
  await writer.writeFloat(block, framesOf(block));
  await writer.finish();
  return new File([new Uint8Array(sink.bytes())], `${MADE_SOUNDS[settings.kind].label}.wav`, { type: "audio/wav" });
}

/** Makes an item: tone, sweep, noise, silence, leader. It is put at the end of the order. */
export function MadeItem() {
  const { view } = useCurrentItem();
  const { timeline } = useWholeProgramme();
  const [settings, setSettings] = useState<MadeSettings>({ kind: "tone", hertz: 1000, levelDb: -18, seconds: 30 });
  const { kind } = settings;
  const set = (change: Partial<MadeSettings>) => setSettings({ ...settings, ...change });
  const add = async () => {
    const file = await fileOf(settings, timeline?.sampleRate ?? 48_000, timeline?.layout.name ?? "stereo");
    toast(`“${MADE_SOUNDS[kind].label}” is made`, { description: "It comes to the end of the order once it is read." });
    await uploadFiles(view.id, [file]);
  };
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button kind="quiet">Made item …</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-50 w-80 rounded-[4px] border border-hair bg-sheet p-3"
        >
          <h2 className="font-semibold">Make an item</h2>
          <p className="mb-1 text-label text-soft">{MADE_SOUNDS[kind].help}. It is put at the end of the order.</p>
          <Setting label="Sound">
            <Select
              label="Sound"
              value={kind}
              options={KINDS}
              words={(one) => MADE_SOUNDS[one].label}
              onChange={(next) =>
                set({ kind: next, levelDb: MADE_SOUNDS[next].levelDb, seconds: MADE_SOUNDS[next].seconds })
              }
            />
          </Setting>
          <Setting label="Length">
            <span className="w-24">
              <NumberInput
                label="Length of the made item"
                value={settings.seconds}
                unit="s"
                onCommit={(seconds) => set({ seconds: Math.max(0.1, Math.min(600, seconds)) })}
              />
            </span>
          </Setting>
          {kind !== "silence" && (
            <Setting label={NOISES.includes(kind) && kind !== "sweep" ? "Level, RMS" : "Level, peak"}>
              <span className="w-24">
                <NumberInput
                  label="Level of the made item"
                  value={settings.levelDb}
                  unit="dBFS"
                  onCommit={(levelDb) => set({ levelDb: Math.max(-80, Math.min(0, levelDb)) })}
                />
              </span>
            </Setting>
          )}
          {!NOISES.includes(kind) && (
            <Setting label="Frequency">
              <span className="w-24">
                <NumberInput
                  label="Frequency of the made item"
                  value={settings.hertz}
                  unit="Hz"
                  onCommit={(hertz) => set({ hertz: Math.max(20, Math.min(20_000, hertz)) })}
                />
              </span>
            </Setting>
          )}
          <div className="mt-2 flex justify-end">
            <Popover.Close asChild>
              <Button kind="main" onClick={() => void add()}>
                Make it
              </Button>
            </Popover.Close>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
