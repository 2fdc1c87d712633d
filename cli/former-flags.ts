/** Flags of earlier versions, by today's: they are taken for good, and no longer shown. */
import { Option, type Command } from "commander";

const FORMER_FLAGS: Readonly<Record<string, string>> = {
  "--bits": "--bit-depth",
  "--kbps": "--bitrate",
  "--again": "--force",
  "--every": "--poll-interval",
};

/** Has a command take the former flags of those that it has. */
export function withFormerFlags(command: Command): Command {
  for (const [former, flag] of Object.entries(FORMER_FLAGS)) {
    const option = command.options.find(({ long }) => long === flag);
    if (!option) continue;
    const hidden = new Option(option.required ? `${former} <value>` : former).hideHelp();
    command.addOption(hidden);
    command.on(`option:${hidden.name()}`, (value?: string) =>
      command.setOptionValue(option.attributeName(), value ?? true),
    );
  }
  return command;
}
