"use client";

import { Headphones } from "lucide-react";
import { Popover, ToggleGroup } from "radix-ui";
import { useEffect, useState } from "react";
import { LISTEN_TO, type ListenTo, type MonitorSettings } from "@core/monitoring/monitor-matrix";
import { processorNamed } from "@core/processors";
import { repairNamed } from "@core/repair";
import { STANDARD_DOWNMIX, type DownmixCoefficients } from "@core/audio/downmix";
import { Select, Setting, CheckboxSetting } from "@ui/design-system/controls";
import { Hint } from "@ui/design-system/hint";
import { useWorkspace } from "../state/workspace-store";
import { useCurrentItem } from "../state/current-item";
import { engine, useEngineState } from "../state/listening-engine";

/** Everything about listening that is not needed at every moment. */
export function ListenMenu() {
  const open = useWorkspace((workspace) => workspace.dialog === "listen");
  const monitor = useWorkspace((workspace) => workspace.monitor);
  const bandOnly = useWorkspace((workspace) => workspace.soloSelectedBand && workspace.selection?.band !== undefined);
  const changed =
    monitor.listenTo !== "all" ||
    monitor.fold !== "speakers" ||
    monitor.solo.length + monitor.mute.length > 0 ||
    bandOnly;
  return (
    <Popover.Root open={open} onOpenChange={(next) => useWorkspace.setState({ dialog: next ? "listen" : null })}>
      <Hint text="Which channels, mid and side, fold-down, reference, step, rolls, device">
        <Popover.Trigger
          className={`flex h-7 items-center gap-1.5 rounded-[4px] border px-2 ${changed ? "border-act bg-act-ground text-act" : "border-hair"}`}
        >
          <Headphones size={14} /> Listen
          {changed && (
            <span className="text-label">{monitor.listenTo === "all" ? "· not all" : `· ${monitor.listenTo}`}</span>
          )}
        </Popover.Trigger>
      </Hint>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="center"
          sideOffset={8}
          collisionPadding={8}
          aria-label="Listening"
          className="z-50 max-h-[80vh] w-[620px] overflow-y-auto rounded-[4px] border border-hair bg-sheet p-3"
        >
          <div className="grid grid-cols-2 gap-5">
            <section>
              <ListenTo />
              <Channels />
              <Fold />
            </section>
            <section>
              <Sources />
              <Rolls />
              <Device />
            </section>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const set = (change: Partial<MonitorSettings>) =>
  useWorkspace.setState(({ monitor }) => ({ monitor: { ...monitor, ...change } }));

const LISTEN_WORDS: Record<ListenTo, string> = {
  all: "all",
  mid: "mid",
  side: "side",
  mono: "mono",
  left: "left in both",
  right: "right in both",
};

function ListenTo() {
  const listenTo = useWorkspace((workspace) => workspace.monitor.listenTo);
  return (
    <>
      <h2 className="mb-1 font-semibold">Of the two sides</h2>
      <ToggleGroup.Root
        type="single"
        value={listenTo}
        aria-label="Of the two sides"
        onValueChange={(value) => value && set({ listenTo: value as ListenTo })}
        className="flex flex-wrap gap-1"
      >
        {LISTEN_TO.map((one) => (
          <ToggleGroup.Item
            key={one}
            value={one}
            className={`h-6 rounded-[4px] border px-2 text-label ${one === listenTo ? "border-act bg-act-ground text-act" : "border-hair"}`}
          >
            {LISTEN_WORDS[one]}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </>
  );
}

/** Solo and mute of each channel. */
function Channels() {
  const { source } = useCurrentItem();
  const { solo, mute } = useWorkspace((workspace) => workspace.monitor);
  const speakers = source?.layout?.speakers ?? [];
  const flip = (list: number[], channel: number) =>
    list.includes(channel) ? list.filter((one) => one !== channel) : [...list, channel];
  if (speakers.length < 2) return null;
  return (
    <>
      <h2 className="mt-3 mb-1 flex justify-between font-semibold">
        Channels
        {solo.length + mute.length > 0 && (
          <button type="button" className="text-label font-normal text-act" onClick={() => set({ solo: [], mute: [] })}>
            all again
          </button>
        )}
      </h2>
      <ul className="grid grid-cols-4 gap-1">
        {speakers.map(({ label }, channel) => (
          <li key={label} className="flex items-center gap-0.5 text-label">
            <span className="w-8 truncate" title={label}>
              {label}
            </span>
            {(["solo", "mute"] as const).map((of) => {
              const list = of === "solo" ? solo : mute;
              const on = list.includes(channel);
              return (
                <button
                  key={of}
                  type="button"
                  aria-pressed={on}
                  aria-label={`${of} ${label}`}
                  title={of === "solo" ? `Only ${label}, and others that are alone` : `${label} not`}
                  onClick={() => set({ [of]: flip(list, channel) })}
                  className={`h-5 rounded-[3px] border px-1 ${on ? "border-act bg-act-ground text-act" : "border-hair text-soft"}`}
                >
                  {of === "solo" ? "only" : "not"}
                </button>
              );
            })}
          </li>
        ))}
      </ul>
    </>
  );
}

const COEFFICIENT_DB = [0, -1.5, -3, -4.5, -6, -9, -60];

/** How many channels go into two. */
function Fold() {
  const { source } = useCurrentItem();
  const { fold, coefficients = STANDARD_DOWNMIX } = useWorkspace((workspace) => workspace.monitor);
  if ((source?.layout?.speakers.length ?? 1) < 2) return null;
  const choose = (key: keyof DownmixCoefficients) => (db: number) =>
    set({ coefficients: { ...coefficients, [key]: db } });
  const words = (db: number) => (db <= -60 ? "left out" : `${String(db).replace("-", "−")} dB`);
  return (
    <>
      <h2 className="mt-3 mb-1 font-semibold">For two ears</h2>
      <Setting label="heard as">
        <Select
          label="How channels are folded"
          value={fold}
          options={["speakers", "binaural"] as const}
          words={(one) => (one === "speakers" ? "two speakers" : "headphones, round a spherical head")}
          onChange={(one) => set({ fold: one })}
        />
      </Setting>
      {fold === "speakers" && (source?.layout?.speakers.length ?? 0) > 2 && (
        <>
          <Setting label="centre into the sides">
            <Select
              label="Centre into the sides"
              value={coefficients.centreDb}
              options={COEFFICIENT_DB}
              words={words}
              onChange={choose("centreDb")}
            />
          </Setting>
          <Setting label="surrounds into the sides">
            <Select
              label="Surrounds into the sides"
              value={coefficients.surroundDb}
              options={COEFFICIENT_DB}
              words={words}
              onChange={choose("surroundDb")}
            />
          </Setting>
        </>
      )}
    </>
  );
}

function Sources() {
  const { view, chain, item } = useCurrentItem();
  const step = useWorkspace((workspace) => workspace.step);
  const steps = [
    ...(item?.repairs ?? []).map(({ id, type }) => ({ id, name: `repair: ${repairNamed(type).name}` })),
    ...chain.map(({ id, type }, index) => ({ id, name: `${index + 1} ${processorNamed(type).name}` })),
  ];
  const reference = useWorkspace((workspace) => workspace.reference);
  const bandOnly = useWorkspace((workspace) => workspace.soloSelectedBand);
  const selection = useWorkspace((workspace) => workspace.selection);
  const sources = view.sources.filter(({ state }) => state === "ready");
  return (
    <>
      <h2 className="mb-1 font-semibold">Sources</h2>
      <Setting label="“before” and “removed” are about">
        <Select
          label="The step that before and removed are about"
          value={step ?? ""}
          options={["", ...steps.flatMap(({ id }) => id ?? [])]}
          words={(id) => steps.find((one) => one.id === id)?.name ?? "the whole chain"}
          onChange={(id) => useWorkspace.setState({ step: id === "" ? null : id })}
        />
      </Setting>
      <Setting label="reference">
        <Select
          label="Reference"
          value={reference ?? ""}
          options={["", ...sources.map(({ hash }) => hash)]}
          words={(hash) => sources.find((one) => one.hash === hash)?.name.slice(0, 26) ?? "none"}
          onChange={(hash) =>
            useWorkspace.setState(hash === "" ? { reference: null, monitorSource: "now" } : { reference: hash })
          }
        />
      </Setting>
      <CheckboxSetting
        label={selection?.band ? "only the selection’s band" : "only the selection’s band (a box has one)"}
        checked={bandOnly}
        onChange={(on) => useWorkspace.setState({ soloSelectedBand: on })}
      />
    </>
  );
}

const ROLLS = [0, 0.25, 0.5, 1, 2, 3, 5];

function Rolls() {
  const rolls = useWorkspace((workspace) => workspace.rolls);
  const words = (seconds: number) => `${seconds} s`;
  return (
    <>
      <h2 className="mt-3 mb-1 font-semibold">Around a loop</h2>
      <Setting label="heard before it">
        <Select
          label="Heard before a loop"
          value={rolls.before}
          options={ROLLS}
          words={words}
          onChange={(before) => useWorkspace.setState({ rolls: { ...rolls, before } })}
        />
      </Setting>
      <Setting label="heard after it">
        <Select
          label="Heard after a loop"
          value={rolls.after}
          options={ROLLS}
          words={words}
          onChange={(after) => useWorkspace.setState({ rolls: { ...rolls, after } })}
        />
      </Setting>
    </>
  );
}

/** Where the sound goes. */
function Device() {
  const { device, problem } = useEngineState();
  const [outputs, setOutputs] = useState<MediaDeviceInfo[]>([]);
  useEffect(() => {
    const media = navigator.mediaDevices as MediaDevices | undefined;
    const list = () =>
      void media?.enumerateDevices().then((all) => setOutputs(all.filter(({ kind }) => kind === "audiooutput")));
    list();
    media?.addEventListener("devicechange", list);
    return () => media?.removeEventListener("devicechange", list);
  }, []);
  const others = outputs.filter(({ deviceId }) => deviceId !== "default" && deviceId !== "");
  return (
    <>
      <h2 className="mt-3 mb-1 font-semibold">Output</h2>
      <Setting label="device">
        <Select
          label="Output device"
          value={device}
          options={["", ...others.map(({ deviceId }) => deviceId)]}
          words={(id) =>
            id === ""
              ? "as the system has it"
              : others.find(({ deviceId }) => deviceId === id)?.label.slice(0, 28) || "output"
          }
          onChange={(id) => void engine().chooseDevice(id)}
        />
      </Setting>
      {problem && <p className="text-label text-outside">{problem}</p>}
    </>
  );
}
