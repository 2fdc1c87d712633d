"use client";

import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { COMMAND_GROUPS, keyWords, useWorkspaceCommands } from "./commands";
import { useTypedPlaces } from "./commands/typed-places";
import { useWorkspace } from "../state/workspace-store";

const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-label [&_[cmdk-group-heading]]:text-soft";
const ITEM =
  "flex items-center justify-between rounded-[3px] px-2 py-1 data-[selected=true]:bg-act-ground data-[selected=true]:text-act";

/** Every command by its words, with its key; and times, which lead to places. */
export function CommandPalette({ project }: { project: string }) {
  const open = useWorkspace((workspace) => workspace.dialog === "commands");
  const commands = useWorkspaceCommands(project);
  const placesOf = useTypedPlaces();
  const [typed, setTyped] = useState("");
  const close = () => {
    setTyped("");
    useWorkspace.setState({ dialog: null });
  };
  const places = placesOf(typed);
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-own-keys
          className="fixed bottom-16 left-28 z-40 w-[460px] overflow-hidden rounded-[4px] border border-hair bg-sheet"
        >
          <Dialog.Title className="px-3 pt-2 text-label text-soft">
            What should be done? Arrow keys choose, Enter does it.
          </Dialog.Title>
          <Command label="Commands" className="flex max-h-[60vh] flex-col">
            <Command.Input
              autoFocus
              value={typed}
              onValueChange={setTyped}
              placeholder="a few letters, or a time: 1:23.5, +2 s, 1:10 to 1:25"
              className="border-b border-hair bg-transparent px-3 py-2 outline-none"
            />
            <Command.List className="overflow-y-auto p-1">
              {places.length === 0 && (
                <Command.Empty className="px-3 py-4 text-soft">Nothing is called that.</Command.Empty>
              )}
              {places.length > 0 && (
                <Command.Group heading="Time" className={GROUP} forceMount>
                  {places.map(({ id, label, run }) => (
                    <Command.Item
                      key={id}
                      value={id}
                      forceMount
                      className={ITEM}
                      onSelect={() => {
                        close();
                        run();
                      }}
                    >
                      {label}
                    </Command.Item>
                  ))}
                </Command.Group>
              )}
              {COMMAND_GROUPS.map((group) => {
                const inGroup = commands.filter((command) => command.group === group);
                if (inGroup.length === 0) return null;
                return (
                  <Command.Group key={group} heading={group} className={GROUP}>
                    {inGroup.map((command) => (
                      <Command.Item
                        key={command.id}
                        value={`${command.label} ${command.id}`}
                        keywords={command.words ? [command.words] : []}
                        onSelect={() => {
                          close();
                          command.run();
                        }}
                        className={ITEM}
                      >
                        <span className="truncate">{command.label}</span>
                        {command.keys && (
                          <kbd className="figure ml-4 text-label text-soft">{keyWords(command.keys)}</kbd>
                        )}
                      </Command.Item>
                    ))}
                  </Command.Group>
                );
              })}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
