"use client";

import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { itemOf } from "@core/project/document";
import type { ProjectView } from "@core/project/views";
import { useRender } from "../../features/deliver/use-render";
import { useCurrentItem } from "../../state/current-item";
import { useWholeProgramme } from "../../state/programme";
import { useWorkspace } from "../../state/workspace-store";
import { useKeepSlot } from "../../state/use-keep-slot";
import { projectKey, useMoveHead } from "../../api/use-project";
import type { CommandContext, WorkspaceCommand } from "./command";
import { keysNow, sameKeys, useOwnKeys } from "./keys";
import { deliverCommands } from "./deliver-commands";
import { listeningCommands } from "./listening-commands";
import { markerCommands } from "./marker-commands";
import { panelCommands } from "./panel-commands";
import { programmeCommands } from "./programme-commands";
import { projectCommands } from "./project-commands";
import { regionCommands } from "./region-commands";
import { pointCommands, timeCommands } from "./time-commands";
import { selectionCommands, viewCommands } from "./view-commands";

export { COMMAND_GROUPS, type WorkspaceCommand } from "./command";
export { keyWords } from "./keys";

/** Everything that the workspace can do, with the keys that it came with. */
export const commandsOf = (context: CommandContext, keepSlot: (slot: 0 | 1) => void): WorkspaceCommand[] => [
  ...listeningCommands(context, keepSlot),
  ...selectionCommands(context),
  ...timeCommands(context),
  ...pointCommands(context),
  ...regionCommands(context),
  ...viewCommands(context),
  ...panelCommands(),
  ...markerCommands(context),
  ...projectCommands(context),
];

/** Everything that the workspace can do, with the keys that the person has. */
export function useWorkspaceCommands(project: string): WorkspaceCommand[] {
  const { facts, view, spec, edit, chainFigures } = useCurrentItem();
  const render = useRender();
  const { items } = view.document;
  const moveHead = useMoveHead(project);
  const keepSlot = useKeepSlot();
  const own = useOwnKeys((kept) => kept.own);
  const client = useQueryClient();
  const latest = useCallback(
    (item: string) => {
      const now = client.getQueryData<ProjectView>(projectKey(project));
      return (now && itemOf(now.document, item)) ?? null;
    },
    [client, project],
  );
  const programme = useWholeProgramme();
  const isProgramme = useWorkspace((workspace) => workspace.stage === "sequence");
  const markerCount = view.document.programme.markers.length;
  return useMemo(() => {
    const context: CommandContext = { facts, items, spec, latest, edit, moveHead };
    const addMarker = (start: number) => {
      const id = `pm-${crypto.randomUUID().slice(0, 8)}`;
      void edit({ type: "addProgrammeMarkers", markers: [{ id, name: `Mark ${markerCount + 1}`, start }] });
    };
    // Keys mean what can be done with what is in hand: an item, or the whole programme.
    const all = isProgramme
      ? [...programmeCommands(view.document, programme, addMarker), ...panelCommands(), ...projectCommands(context)]
      : commandsOf(context, keepSlot);
    const delivering = deliverCommands({ view, facts, figures: chainFigures, spec, edit, render });
    return [...all, ...delivering].map(({ keys: standard, ...command }) => {
      const keys = keysNow({ id: command.id, keys: standard }, own);
      return keys === undefined ? command : { ...command, keys };
    });
  }, [
    facts,
    items,
    spec,
    latest,
    edit,
    moveHead,
    keepSlot,
    own,
    programme,
    isProgramme,
    markerCount,
    view,
    chainFigures,
    render,
  ]);
}

/** Binds the keys of all commands. Keys typed into fields stay there. */
export function useCommandKeys(project: string): void {
  const commands = useWorkspaceCommands(project);
  const keyed = commands.filter((command) => command.keys);
  useHotkeys(
    keyed.map(({ keys }) => keys!),
    (event, hotkey) => {
      // What has the focus has used the key: a divider, a row of choices, a layer that it closes.
      if (event.defaultPrevented) return;
      const { target } = event;
      // Some dialogs keep keys to themselves, and Space presses the button in a sheet that has the focus.
      if (target instanceof HTMLElement) {
        if (target.closest("[data-own-keys], [role=menu]")) return;
        if (hotkey.keys?.includes("space") && target.closest("[role=dialog]") && target.closest("button")) return;
      }
      // Words that are marked in the page are copied as anywhere.
      if (hotkey.mod && hotkey.keys?.includes("c") && !getSelection()?.isCollapsed) return;
      const pressed = keyed.find(({ keys }) => sameKeys(keys!, hotkey));
      if (!pressed) return;
      event.preventDefault();
      pressed.run();
    },
    { enableOnFormTags: false, ignoreModifiers: false },
    [commands],
  );
}
