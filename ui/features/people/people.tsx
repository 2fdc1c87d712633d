"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api } from "@ui/api/api";
import { useMe } from "@ui/api/me";
import { PageHead } from "@ui/design-system/page-head";
import { BeginAccounts } from "./begin-accounts";
import { Invitations } from "./invitations";
import { PersonRow } from "./person-row";

/** Who works here, who is invited, and what each may do. */
export function People() {
  const me = useMe();
  useEffect(() => {
    document.title = "People · Resonum";
  }, []);
  return (
    <div className="flex h-screen flex-col">
      <PageHead title="People" help="Who works here, who is invited, and what each may do." />
      <main className="min-h-0 flex-1 overflow-y-auto">
        <div className="mx-auto flex w-full max-w-[1120px] flex-col gap-5 px-6 py-4">
          {!me && <p className="text-soft">Looking who works here …</p>}
          {me && (me.person ? <Accounts isOwner={me.role === "owner"} self={me.person.id} /> : <BeginAccounts />)}
        </div>
      </main>
    </div>
  );
}

function Accounts({ isOwner, self }: { isOwner: boolean; self: string }) {
  const { data: people, error } = useQuery({ queryKey: ["people"], queryFn: () => api("GET /api/people") });
  if (error) return <p className="text-outside">{error.message}</p>;
  return (
    <>
      <Invitations isOwner={isOwner} />
      <section aria-label="Accounts">
        <h2 className="pb-1 text-head">Accounts</h2>
        <table className="w-full border border-hair bg-sheet">
          <thead className="text-left text-label text-soft">
            <tr>
              <th className="py-1 pl-3 font-normal">name</th>
              <th className="font-normal">e-mail address</th>
              <th className="font-normal">role in the studio</th>
              <th className="font-normal">passkeys</th>
              <th className="font-normal">last here</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {people?.map((person) => (
              <PersonRow key={person.id} person={person} isOwner={isOwner} isSelf={person.id === self} />
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}
