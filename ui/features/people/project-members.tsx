"use client";

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { PROJECT_ROLE_LABELS, PROJECT_ROLES, projectRole, type ProjectRole } from "@core/people/roles";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { RoleSelect } from "./role-select";

interface Props {
  project: { id: string; name: string };
  open: boolean;
  onClose: () => void;
}

type Choice = ProjectRole | "none";
const LABELS: Record<Choice, { name: string; help: string }> = {
  ...PROJECT_ROLE_LABELS,
  none: { name: "Nothing", help: "Does not see the project." },
};

/** Who may do what in a project: by their role in the studio, or because it was given to them here. */
export function ProjectMembers({ project, open, onClose }: Props) {
  return (
    <SheetDialog
      open={open}
      onClose={onClose}
      title={`People of “${project.name}”`}
      help="Owners and engineers edit every project, assistants hear every one; here others are given a part, or more of one."
    >
      {open && <MemberTable project={project.id} />}
    </SheetDialog>
  );
}

function MemberTable({ project }: { project: string }) {
  const client = useQueryClient();
  const { data: people, error } = useQuery({ queryKey: ["people"], queryFn: () => api("GET /api/people") });
  const { data: members } = useQuery({
    queryKey: ["members", project],
    queryFn: () => api("GET /api/projects/{project}/members", { params: { project } }),
  });
  const give = async (person: string, role: Choice) => {
    await api("PUT /api/projects/{project}/members", {
      params: { project },
      body: { person, role: role === "none" ? null : role },
    });
    await client.invalidateQueries({ queryKey: ["members", project] });
  };
  if (error) return <p className="text-outside">{error.message}</p>;
  const given = new Map(members?.map(({ person_id: id, role }) => [id, role]));
  return (
    <table className="w-full" data-testid="members">
      <tbody>
        {people
          ?.filter(({ suspended }) => !suspended)
          .map(({ id, name, role }) => {
            const everywhere = projectRole(role, null);
            const own: Choice = projectRole(role, given.get(id) ?? null) ?? "none";
            // What a role in the studio gives cannot be taken away here.
            const roles: Choice[] = everywhere
              ? PROJECT_ROLES.slice(0, PROJECT_ROLES.indexOf(everywhere) + 1)
              : [...PROJECT_ROLES, "none"];
            return (
              <tr key={id} className="border-t border-grid first:border-t-0">
                <td className="py-1.5 [overflow-wrap:anywhere]">
                  {name} <span className="text-label text-soft">{role}</span>
                </td>
                <td className="text-right">
                  {roles.length === 1 ? (
                    <span className="text-soft">edits every project</span>
                  ) : (
                    <RoleSelect
                      label={`Part of ${name}`}
                      role={own}
                      roles={roles}
                      labels={LABELS}
                      onChoose={(next) => told(give(id, next), "The part was not given")}
                    />
                  )}
                </td>
              </tr>
            );
          })}
      </tbody>
    </table>
  );
}
