"use client";

import { Button } from "@ui/design-system/button";
import { COMMAND_GROUPS, commandsOf, keyWords } from "./commands";
import { keysNow, useOwnKeys } from "./commands/keys";

const NOTHING = () => Promise.resolve();
/** The commands as they are without a project: those of its items are left out. */
const COMMANDS = commandsOf(
  { facts: null, items: [], spec: null, latest: () => null, edit: NOTHING, moveHead: NOTHING },
  () => undefined,
);

/** All keys on one sheet, to be printed. */
export function KeysSheet() {
  const own = useOwnKeys((kept) => kept.own);
  return (
    <main className="mx-auto max-w-[900px] bg-sheet p-6 print:p-0">
      <header className="mb-3 flex items-baseline justify-between">
        <h1 className="text-head font-semibold">Resonum: keys</h1>
        <Button className="print:hidden" onClick={() => window.print()}>
          Print
        </Button>
      </header>
      <div className="columns-2 gap-8 text-label">
        {COMMAND_GROUPS.map((group) => {
          const keyed = COMMANDS.flatMap((command) => {
            const keys = keysNow(command, own);
            return command.group === group && keys ? [{ ...command, keys }] : [];
          });
          if (keyed.length === 0) return null;
          return (
            <section key={group} className="mb-3">
              <h2 className="border-b border-ink font-semibold">{group}</h2>
              <ul>
                {keyed.map(({ id, label, keys }) => (
                  <li key={id} className="flex justify-between gap-3 border-b border-grid py-px">
                    {label}
                    <kbd className="figure whitespace-nowrap">{keyWords(keys)}</kbd>
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
      </div>
    </main>
  );
}
