"use client";

import Link from "next/link";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { format, formatDistanceToNowStrict } from "date-fns";
import { useState } from "react";
import { isStudioRole, SCOPE_LABELS, SCOPES, type Scope, type StudioRole } from "@core/people/roles";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { CheckboxField, Select } from "@ui/design-system/controls";
import { TextField } from "@ui/design-system/text-field";
import { SecretShown } from "./secret-shown";

const LASTING: [string, number | null][] = [
  ["30 days", 30],
  ["a year", 365],
  ["until withdrawn", null],
];

/** Tokens of programs that act for whoever made them: what each may do, and until when. */
export function Tokens({ studioRole }: { studioRole: StudioRole }) {
  const client = useQueryClient();
  const { data: tokens } = useQuery({ queryKey: ["tokens"], queryFn: () => api("GET /api/account/tokens") });
  const [made, setMade] = useState<string | null>(null);
  const again = () => client.invalidateQueries({ queryKey: ["tokens"] });
  const withdraw = async (id: string) => {
    await api("DELETE /api/account/tokens/{token}", { params: { token: id } });
    await again();
  };
  return (
    <section aria-label="API tokens" className="flex flex-col gap-2">
      <h2 className="text-head">API tokens</h2>
      <p className="text-soft">
        For programs that act for you: what they may ask stands in the{" "}
        <Link href="/reference" className="text-act underline">
          reference of the API
        </Link>
        .
      </p>
      <NewToken
        studioRole={studioRole}
        onMade={(token) => {
          setMade(token);
          void again();
        }}
      />
      {made && <SecretShown label="The token, told this once" secret={made} onDone={() => setMade(null)} />}
      {tokens && tokens.length > 0 && (
        <table className="w-full border border-hair bg-sheet" data-testid="tokens">
          <tbody>
            {tokens.map(({ id, name, start, scopes, expires_at: until, used_at: used }) => (
              <tr key={id} className="border-t border-grid first:border-t-0">
                <td className="py-1.5 pl-3 [overflow-wrap:anywhere]">{name}</td>
                <td className="figure text-soft">{start}…</td>
                <td>{scopes.map((scope) => SCOPE_LABELS[scope].name.toLowerCase()).join(", ")}</td>
                <td className="text-soft">
                  {until ? `good until ${format(new Date(until), "d MMMM yyyy")}` : "until withdrawn"}
                </td>
                <td className="text-soft">
                  {used ? `used ${formatDistanceToNowStrict(new Date(used))} ago` : "never used"}
                </td>
                <td className="pr-2 text-right">
                  <Button kind="quiet" onClick={() => told(withdraw(id), "The token was not withdrawn")}>
                    Withdraw
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function NewToken({ studioRole, onMade }: { studioRole: StudioRole; onMade: (token: string) => void }) {
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<readonly Scope[]>(["read"]);
  const [days, setDays] = useState<number | null>(30);
  const make = async () => {
    const { token } = await api("POST /api/account/tokens", { body: { name: name.trim(), scopes, days } });
    setName("");
    onMade(token);
  };
  const offered = SCOPES.filter((scope) => scope !== "manage" || isStudioRole(studioRole, "engineer"));
  return (
    <form
      className="flex flex-wrap items-end gap-4 border border-hair bg-sheet px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        told(make(), "No token was made");
      }}
    >
      <TextField
        label="For what"
        placeholder="the night's batch"
        value={name}
        onChange={setName}
        maxLength={200}
        className="w-56"
      />
      <fieldset className="flex h-8 items-center gap-3">
        <legend className="sr-only">What it may do</legend>
        {offered.map((scope) => (
          <CheckboxField
            key={scope}
            label={SCOPE_LABELS[scope].name}
            title={SCOPE_LABELS[scope].help}
            checked={scopes.includes(scope)}
            onChange={(checked) => setScopes(checked ? [...scopes, scope] : scopes.filter((one) => one !== scope))}
          />
        ))}
      </fieldset>
      <label className="flex items-center gap-2 text-label text-soft">
        good for
        <Select
          label="good for"
          value={days ?? 0}
          options={LASTING.map(([, value]) => value ?? 0)}
          words={(count) => LASTING.find(([, value]) => (value ?? 0) === count)![0]}
          onChange={(count) => setDays(count || null)}
          className="h-8 text-body text-ink"
        />
      </label>
      <Button kind="main" type="submit" className="h-8" disabled={name.trim() === "" || scopes.length === 0}>
        Make a token
      </Button>
    </form>
  );
}
