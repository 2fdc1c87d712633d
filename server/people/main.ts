/** The program behind `resonum owner`, and the look at whether there is one before a studio is opened to others. */
import { createInterface } from "node:readline/promises";
import { migrate, pool, row } from "../db/database";
import { makeOwner } from "./people";
import { unknownPrincipal } from "./principal";

const [command, email = "", name = ""] = process.argv.slice(2);

/** A line of standard input: piped, or typed without being shown. */
async function password(): Promise<string> {
  const shown = process.stdin.isTTY;
  if (shown) process.stderr.write("Password (it is not shown): ");
  const lines = createInterface({ input: process.stdin, terminal: shown, output: undefined });
  for await (const line of lines) {
    lines.close();
    if (shown) process.stderr.write("\n");
    return line;
  }
  return "";
}

async function run(): Promise<void> {
  await migrate();
  if (command === "has-owner") {
    const found = await row("select 1 from person where role = 'owner' and not suspended");
    process.exitCode = found ? 0 : 1;
    return;
  }
  const given = { email, name: name || email.split("@")[0]!, password: await password() };
  const wasThere = await makeOwner(unknownPrincipal(null), given);
  process.stdout.write(
    wasThere
      ? `${email} is an owner, with the new password; whoever was signed in with the former one is signed out.\n`
      : `${given.name} is an owner, and signs in as ${email}.\n`,
  );
}

run()
  .catch((error: Error) => {
    process.stderr.write(`resonum: ${error.message}\n`);
    process.exitCode = 2;
  })
  .finally(() => void pool().end());
