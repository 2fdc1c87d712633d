"use client";

import { useState } from "react";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { ProblemLine } from "@ui/design-system/problem-line";
import { AccountFields, NO_ACCOUNT } from "./account-fields";

/** What a studio without accounts is, and how it gets its first. */
export function BeginAccounts() {
  const [entry, setEntry] = useState(NO_ACCOUNT);
  const [problem, setProblem] = useState<string | null>(null);
  const begin = async () => {
    try {
      await api("POST /api/people", { body: entry });
      await api("POST /api/sign-in", { body: { email: entry.email, password: entry.password } });
      location.reload();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <div className="grid grid-cols-2 gap-8 border border-hair bg-sheet p-5">
      <div className="max-w-prose">
        <h2 className="pb-1 text-head font-semibold">One person, on this machine</h2>
        <p>
          The studio has no accounts: it answers on this machine alone, and whoever sits at it may do everything. Nobody
          has to sign in.
        </p>
        <h3 className="pt-3 pb-1 font-semibold">With accounts</h3>
        <p>
          Its first account is an owner, who invites the others by links. From then on everybody signs in, on this
          machine as well; edits, renders, downloads and hand-overs stand under a name; and the studio can be opened to
          other machines with <code className="figure">resonum serve --host</code>. This cannot be taken back.
        </p>
      </div>
      <form
        className="flex max-w-[400px] flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void begin();
        }}
      >
        <AccountFields entry={entry} onChange={setEntry} />
        <ProblemLine words={problem} />
        <Button kind="main" type="submit" className="h-8 self-start">
          Become the owner
        </Button>
      </form>
    </div>
  );
}
