import { Select } from "@ui/design-system/controls";

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
    <Select
      label={label}
      title={labels[role].help}
      value={role}
      options={roles}
      words={(one) => labels[one].name}
      hints={(one) => labels[one].help}
      onChange={onChoose}
      className={tall ? "h-8" : "h-7"}
    />
  );
}
