"use client";

import { useQueryClient } from "@tanstack/react-query";
import { formatDistanceToNowStrict } from "date-fns";
import { useState } from "react";
import { STUDIO_ROLE_LABELS, STUDIO_ROLES, type StudioRole } from "@core/people/roles";
import type { PersonView } from "@core/people/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { joinLink } from "./join-link";
import { RoleSelect } from "./role-select";
import { SecretShown } from "./secret-shown";

interface Props {
  person: PersonView;
  /** Whether whoever looks may change anything. */
  isOwner: boolean;
  isSelf: boolean;
}

export function PersonRow({ person, isOwner, isSelf }: Props) {
  const client = useQueryClient();
  const [link, setLink] = useState<string | null>(null);
  const { id, name, role, suspended } = person;
  const change = (body: { role?: StudioRole; suspended?: boolean }) => {
    const changed = api("PATCH /api/people/{person}", { params: { person: id }, body });
    told(changed, `${name} was not changed`);
    void changed.then(
      () => client.invalidateQueries(),
      () => undefined, // was told
    );
  };
  const reset = async () => {
    const { secret } = await api("POST /api/people/{person}/reset", { params: { person: id } });
    setLink(joinLink(secret));
  };
  return (
    <>
      <tr className={`border-t border-grid ${suspended ? "text-soft" : ""}`}>
        <td className="py-1.5 pl-3 [overflow-wrap:anywhere]">
          {name}
          {isSelf && <span className="text-label text-soft"> you</span>}
          {suspended && <span className="text-label"> suspended</span>}
        </td>
        <td className="[overflow-wrap:anywhere]">{person.email}</td>
        <td>
          {isOwner ? (
            <RoleSelect
              label={`Role of ${name}`}
              role={role}
              roles={STUDIO_ROLES}
              labels={STUDIO_ROLE_LABELS}
              onChoose={(next) => change({ role: next })}
            />
          ) : (
            STUDIO_ROLE_LABELS[role].name
          )}
        </td>
        <td className="figure">{person.passkeys}</td>
        <td className="text-soft">
          {person.seen_at ? `${formatDistanceToNowStrict(new Date(person.seen_at))} ago` : "signed out"}
        </td>
        <td className="pr-2 text-right whitespace-nowrap">
          {isOwner && !isSelf && (
            <>
              <Button
                kind="quiet"
                onClick={() => told(reset(), "No link was made")}
                hint="A link by which they choose another password, good for a day"
              >
                New password
              </Button>
              <Button
                kind="quiet"
                onClick={() => change({ suspended: !suspended })}
                hint={
                  suspended
                    ? "They may sign in again"
                    : "Signed out everywhere at once, and let in no more; what they did stays"
                }
              >
                {suspended ? "Let in again" : "Suspend"}
              </Button>
            </>
          )}
        </td>
      </tr>
      {link && (
        <tr>
          <td colSpan={6} className="px-3 pb-2">
            <SecretShown label={`Link for ${name}, told this once`} secret={link} onDone={() => setLink(null)} />
          </td>
        </tr>
      )}
    </>
  );
}
