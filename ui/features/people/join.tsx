"use client";

import { useEffect, useState } from "react";
import { STUDIO_ROLE_LABELS } from "@core/people/roles";
import type { InvitationPreview } from "@core/people/views";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { ProblemLine } from "@ui/design-system/problem-line";
import { AccountFields, NO_ACCOUNT } from "./account-fields";
import { Entrance } from "./entrance";

type Looked = { preview: InvitationPreview } | { problem: string };

/** The page that an invitation leads to. Its secret stands behind the “#”, which no server and no log ever sees. */
export function Join() {
  const [looked, setLooked] = useState<Looked | null>(null);
  useEffect(() => {
    const secret = location.hash.slice(1);
    api("POST /api/join/preview", { body: { secret } }).then(
      (preview) => setLooked({ preview }),
      (error: Error) => setLooked({ problem: error.message }),
    );
  }, []);
  if (looked === null) return <Entrance title="Looking at the link …">{null}</Entrance>;
  if ("problem" in looked)
    return (
      <Entrance title="This link leads nowhere">
        <p>{looked.problem}</p>
      </Entrance>
    );
  return <Joining preview={looked.preview} />;
}

function Joining({ preview: { role, project, invitedBy, resetFor } }: { preview: InvitationPreview }) {
  const [entry, setEntry] = useState(NO_ACCOUNT);
  const [problem, setProblem] = useState<string | null>(null);
  const join = async () => {
    try {
      const given = resetFor ? { ...entry, ...resetFor } : entry;
      await api("POST /api/join", { body: { ...given, secret: location.hash.slice(1) } });
      location.assign("/");
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  const help = resetFor
    ? `For ${resetFor.name}, ${resetFor.email}. Every device is signed out.`
    : `${invitedBy} invites you as ${STUDIO_ROLE_LABELS[role].name.toLowerCase()}${project ? `, to “${project}”` : ""}.`;
  return (
    <Entrance title={resetFor ? "Choose a new password" : "Join the studio"} help={help}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void join();
        }}
      >
        <AccountFields entry={entry} onChange={setEntry} passwordOnly={resetFor !== null} />
        <ProblemLine words={problem} />
        <Button kind="main" type="submit" className="h-8 self-start">
          {resetFor ? "Set it and sign in" : "Join"}
        </Button>
      </form>
    </Entrance>
  );
}
