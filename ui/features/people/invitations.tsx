"use client";

import { Select } from "@ui/design-system/controls";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { formatDistanceToNowStrict } from "date-fns";
import { Link2 } from "lucide-react";
import { useState } from "react";
import {
  PROJECT_ROLE_LABELS,
  PROJECT_ROLES,
  STUDIO_ROLE_LABELS,
  STUDIO_ROLES,
  type ProjectRole,
  type StudioRole,
} from "@core/people/roles";
import type { InvitationView } from "@core/people/views";
import type { ProjectSummary } from "@core/project/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";
import { TextField } from "@ui/design-system/text-field";
import { joinLink } from "./join-link";
import { RoleSelect } from "./role-select";
import { SecretShown } from "./secret-shown";

/** Links by which others join: made, and withdrawn. Engineers invite guests, owners anybody. */
export function Invitations({ isOwner }: { isOwner: boolean }) {
  const { data: open } = useQuery({
    queryKey: ["invitations"],
    queryFn: () => api("GET /api/invitations"),
  });
  const { data: projects = [] } = useQuery({
    queryKey: ["projects"],
    queryFn: () => api("GET /api/projects"),
  });
  const [link, setLink] = useState<string | null>(null);
  const named = new Map(projects.map(({ id, name }) => [id, name]));
  return (
    <section aria-label="Invitations" className="flex flex-col gap-2">
      <h2 className="text-head">Invitations</h2>
      <NewInvitation isOwner={isOwner} projects={projects} onMade={(secret) => setLink(joinLink(secret))} />
      {link && (
        <SecretShown label="Send this link, which is told this once" secret={link} onDone={() => setLink(null)} />
      )}
      {open && open.length > 0 && (
        <table className="w-full border border-hair bg-sheet">
          <tbody>
            {open.map((one) => (
              <InvitationRow key={one.id} invitation={one} project={named.get(one.project_id ?? "")} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function InvitationRow({ invitation, project }: { invitation: InvitationView; project: string | undefined }) {
  const client = useQueryClient();
  const { id, role, note, reset_for: resetFor, project_role: projectRole } = invitation;
  const withdraw = async () => {
    await api("DELETE /api/invitations/{invitation}", { params: { invitation: id } });
    await client.invalidateQueries({ queryKey: ["invitations"] });
  };
  return (
    <tr className="border-t border-grid first:border-t-0">
      <td className="py-1.5 pl-3">{resetFor ? `new password for ${resetFor}` : note || "somebody"}</td>
      <td>
        {STUDIO_ROLE_LABELS[role].name}
        {projectRole &&
          ` · ${PROJECT_ROLE_LABELS[projectRole].name.toLowerCase()} in ${project ? `“${project}”` : "a project"}`}
      </td>
      <td className="text-soft">by {invitation.invited_by}</td>
      <td className="text-soft">good for {formatDistanceToNowStrict(new Date(invitation.expires_at))}</td>
      <td className="pr-2 text-right">
        <Button kind="quiet" onClick={() => told(withdraw(), "The invitation was not withdrawn")}>
          Withdraw
        </Button>
      </td>
    </tr>
  );
}

interface NewProps {
  isOwner: boolean;
  projects: readonly ProjectSummary[];
  onMade: (secret: string) => void;
}

function NewInvitation({ isOwner, projects, onMade }: NewProps) {
  const client = useQueryClient();
  const [role, setRole] = useState<StudioRole>(isOwner ? "engineer" : "guest");
  const [note, setNote] = useState("");
  const [project, setProject] = useState("");
  const [projectRole, setProjectRole] = useState<ProjectRole>("listen");
  const send = async () => {
    const part = project ? { project: { id: project, role: projectRole } } : {};
    const { secret } = await api("POST /api/invitations", { body: { role, note: note.trim(), ...part } });
    setNote("");
    onMade(secret);
    await client.invalidateQueries({ queryKey: ["invitations"] });
  };
  return (
    <form
      className="flex flex-wrap items-end gap-3 border border-hair bg-sheet px-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        told(send(), "No invitation was made");
      }}
    >
      <TextField
        label="For whom"
        placeholder="a name, for yourself"
        value={note}
        onChange={setNote}
        maxLength={200}
        className="w-56"
      />
      <Choice label="Role in the studio">
        <RoleSelect
          label="Role in the studio"
          role={role}
          roles={isOwner ? STUDIO_ROLES : ["guest"]}
          labels={STUDIO_ROLE_LABELS}
          onChoose={setRole}
          tall
        />
      </Choice>
      <Choice label="Project">
        <Select
          label="Project"
          value={project}
          options={["", ...projects.map(({ id }) => id)]}
          words={(id) => projects.find((one) => one.id === id)?.name ?? "none"}
          onChange={setProject}
          className="h-8 max-w-56"
        />
      </Choice>
      {project && (
        <Choice label="Part in it">
          <RoleSelect
            label="Part in it"
            role={projectRole}
            roles={PROJECT_ROLES}
            labels={PROJECT_ROLE_LABELS}
            onChoose={setProjectRole}
            tall
          />
        </Choice>
      )}
      <Button kind="main" type="submit" className="h-8">
        <Link2 size={13} /> Make a link
      </Button>
      <p className="basis-full text-label text-soft">
        {STUDIO_ROLE_LABELS[role].help} The link is good once, for a week.
      </p>
    </form>
  );
}

function Choice({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <span className="flex flex-col gap-0.5">
      <span className="text-label text-soft">{label}</span>
      {children}
    </span>
  );
}
