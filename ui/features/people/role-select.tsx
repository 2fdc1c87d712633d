interface Props<Role extends string> {
  label: string;
  role: Role;
  labels: Record<Role, { name: string; help: string }>;
  roles: readonly Role[];
  onChoose: (role: Role) => void;
  /** Beside fields of a form. */
  tall?: boolean;
}

/** A role, chosen among those that there are, with what each may do as its hint. */
export function RoleSelect<Role extends string>({ label, role, labels, roles, onChoose, tall }: Props<Role>) {
  return (
    <select
      aria-label={label}
      title={labels[role].help}
      value={role}
      onChange={(event) => onChoose(event.target.value as Role)}
      className={`rounded-[4px] border border-hair bg-sheet px-1 ${tall ? "h-8" : "h-7"}`}
    >
      {roles.map((one) => (
        <option key={one} value={one} title={labels[one].help}>
          {labels[one].name}
        </option>
      ))}
    </select>
  );
}
