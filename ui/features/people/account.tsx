"use client";

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { LogOut } from "lucide-react";
import { useEffect, useState, type ReactNode } from "react";
import { toast } from "sonner";
import { STUDIO_ROLE_LABELS } from "@core/people/roles";
import { api } from "@ui/api/api";
import { ME_KEY, useMe } from "@ui/api/me";
import { signOut } from "@ui/api/passkeys";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { PageHead } from "@ui/design-system/page-head";
import { TextField } from "@ui/design-system/text-field";
import { Passkeys } from "./passkeys";
import { Sessions } from "./sessions";
import { Tokens } from "./tokens";

/** What people look after themselves: their name, how they sign in, where they are signed in, and their API tokens. */
export function Account() {
  const me = useMe();
  useEffect(() => {
    document.title = "Account · Resonum";
  }, []);
  const leave = async () => {
    await signOut();
    location.assign("/sign-in");
  };
  return (
    <div className="flex h-screen flex-col">
      <PageHead title="Account" help="Your name, how you sign in, and programs that act for you.">
        {me?.person && (
          <Button onClick={() => told(leave(), "You are still signed in")}>
            <LogOut size={13} /> Sign out
          </Button>
        )}
      </PageHead>
      <main className="min-h-0 flex-1 overflow-y-auto">
        <div className="mx-auto flex w-full max-w-[1120px] flex-col gap-5 px-6 py-4">
          {me && !me.person && (
            <p>The studio has no accounts: whoever sits at its machine may do everything. “People” begins with them.</p>
          )}
          {me?.person && (
            <>
              <div className="grid grid-cols-3 gap-5">
                <Name name={me.person.name} email={me.person.email} role={STUDIO_ROLE_LABELS[me.role].name} />
                <Password />
                <Passkeys />
              </div>
              <Devices />
              <Tokens studioRole={me.role} />
            </>
          )}
        </div>
      </main>
    </div>
  );
}

/** A part of the page with its heading. */
function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h2 className="pb-1 text-head">{title}</h2>
      <div className="border border-hair bg-sheet p-3">{children}</div>
    </section>
  );
}

function Name({ name: known, email, role }: { name: string; email: string; role: string }) {
  const client = useQueryClient();
  const [name, setName] = useState(known);
  const rename = async () => {
    await api("PATCH /api/account", { body: { name: name.trim() } });
    await client.invalidateQueries({ queryKey: ME_KEY });
  };
  return (
    <Part title="You">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          told(rename(), "The name was not changed");
        }}
      >
        <TextField label="Name" value={name} onChange={setName} maxLength={200} autoComplete="name" />
        <p className="text-soft">
          {email} · {role}
        </p>
        <Button type="submit" className="self-start" disabled={name.trim() === "" || name.trim() === known}>
          Change the name
        </Button>
      </form>
    </Part>
  );
}

function Password() {
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const client = useQueryClient();
  const change = async () => {
    await api("PUT /api/account/password", { body: { current, password } });
    setCurrent("");
    setPassword("");
    toast("The password was changed", { description: "All other devices are signed out." });
    await client.invalidateQueries({ queryKey: ["sessions"] });
  };
  return (
    <Part title="Password">
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          told(change(), "The password was not changed");
        }}
      >
        <TextField
          label="Present password"
          type="password"
          autoComplete="current-password"
          value={current}
          onChange={setCurrent}
        />
        <TextField
          label="New password"
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
        />
        <Button type="submit" className="self-start" disabled={current === "" || password === ""}>
          Change the password
        </Button>
      </form>
    </Part>
  );
}

function Devices() {
  const { data: sessions } = useQuery({
    queryKey: ["sessions"],
    queryFn: () => api("GET /api/account/sessions"),
  });
  return (
    <section aria-label="Signed in on">
      <h2 className="pb-1 text-head">Signed in on</h2>
      <Sessions sessions={sessions ?? []} />
    </section>
  );
}
