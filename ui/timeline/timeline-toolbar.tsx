"use client";

import { counted } from "@core/audio/format";
import { Bookmark, Film, Layers, Magnet, MoveHorizontal, Spline, Square, Timer } from "lucide-react";
import { Popover, ToggleGroup } from "radix-ui";
import type { ReactNode, RefObject } from "react";
import { SELECT_TOOLS, useWorkspace, type SelectTool } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import { Hint } from "@ui/design-system/hint";
import { LaneMenu } from "./lane-menu";
import { hasPicture } from "./video-picture";
import { PointerReadout } from "./pointer-readout";
import { SnapMenu, TimeMenu } from "./time-menus";

const TOOLS: Record<SelectTool, { icon: ReactNode; hint: string }> = {
  time: { icon: <MoveHorizontal size={13} />, hint: "A drag selects in time" },
  box: { icon: <Square size={13} />, hint: "A drag over a spectrogram selects in time and frequency" },
  freehand: { icon: <Spline size={13} />, hint: "A drag over a spectrogram draws the outline of what is selected" },
};

/** Which lanes, how time is told, what a drag selects and snaps to; at the right, what lies under the pointer. */
export function TimelineToolbar({ facts, surface }: { facts: ItemFacts; surface: RefObject<HTMLDivElement | null> }) {
  const tool = useWorkspace((workspace) => workspace.tool);
  const oneChannel = useWorkspace((workspace) => workspace.oneChannel);
  const picture = useWorkspace((workspace) => workspace.picture);
  const channels = facts.source.layout?.speakers.length ?? 1;
  return (
    <div
      className="flex h-7 shrink-0 items-center gap-1 border-b border-hair bg-sheet px-1 text-label"
      role="toolbar"
      aria-label="Programme view"
    >
      <Menu label="Lanes" icon={<Layers size={13} />} hint="Which lanes are drawn, and how" wide>
        <LaneMenu facts={facts} />
      </Menu>
      <Menu label="Time" icon={<Timer size={13} />} hint="How times are told">
        <TimeMenu facts={facts} />
      </Menu>
      <Menu label="Snap" icon={<Magnet size={13} />} hint="What edges are drawn to">
        <SnapMenu />
      </Menu>
      <ToggleGroup.Root
        type="single"
        value={tool}
        aria-label="What a drag selects"
        onValueChange={(next) => next && useWorkspace.setState({ tool: next as SelectTool })}
        className="ml-1 flex overflow-hidden rounded-[4px] border border-hair"
      >
        {SELECT_TOOLS.map((one) => (
          <Hint key={one} text={TOOLS[one].hint} shortcut="B">
            <ToggleGroup.Item
              value={one}
              aria-label={TOOLS[one].hint}
              className={`flex h-5.5 items-center gap-1 px-1.5 ${one === tool ? "bg-act-ground text-act" : "text-soft"}`}
            >
              {TOOLS[one].icon} {one}
            </ToggleGroup.Item>
          </Hint>
        ))}
      </ToggleGroup.Root>
      {hasPicture(facts) && (
        <Hint text="The picture that belongs to the sound, at the place that is heard">
          <button
            type="button"
            aria-pressed={picture}
            onClick={() => useWorkspace.setState({ picture: !picture })}
            className={`ml-1 flex h-5.5 items-center gap-1 rounded-[4px] border border-hair px-1.5 ${picture ? "bg-act-ground text-act" : "text-soft"}`}
          >
            <Film size={13} /> Picture
          </button>
        </Hint>
      )}
      {channels > 1 && (
        <Hint text="A drag in the waveform selects only the channel that it begins in">
          <button
            type="button"
            aria-pressed={oneChannel}
            onClick={() => useWorkspace.setState({ oneChannel: !oneChannel })}
            className={`h-5.5 rounded-[4px] border px-1.5 ${oneChannel ? "border-act bg-act-ground text-act" : "border-hair text-soft"}`}
          >
            one channel
          </button>
        </Hint>
      )}
      <Hint text="The list of markers" shortcut="K">
        <button
          type="button"
          onClick={() => useWorkspace.setState({ dialog: "markers" })}
          className="flex h-5.5 items-center gap-1 rounded-[4px] px-1.5 text-act hover:bg-act-ground"
        >
          <Bookmark size={13} /> {counted(facts.item.markers.length, "marker")}
        </button>
      </Hint>
      <PointerReadout facts={facts} surface={surface} />
    </div>
  );
}

function Menu({
  label,
  icon,
  hint,
  wide,
  children,
}: {
  label: string;
  icon: ReactNode;
  hint: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Popover.Root>
      <Hint text={hint}>
        <Popover.Trigger className="flex h-5.5 items-center gap-1 rounded-[4px] px-1.5 text-act hover:bg-act-ground data-[state=open]:bg-act-ground">
          {icon} {label}
        </Popover.Trigger>
      </Hint>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          collisionPadding={8}
          className={`z-50 max-h-[70vh] overflow-y-auto rounded-[4px] border border-hair bg-sheet p-3 ${wide ? "w-[560px]" : "w-72"}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
