import { TextField } from "@ui/design-system/text-field";

export interface AccountEntry {
  name: string;
  email: string;
  password: string;
}

export const NO_ACCOUNT: AccountEntry = { name: "", email: "", password: "" };

interface Props {
  entry: AccountEntry;
  onChange: (entry: AccountEntry) => void;
  /** Whoever has an account only chooses a password. */
  passwordOnly?: boolean;
}

/** Who somebody is, and the password that they choose. */
export function AccountFields({ entry, onChange, passwordOnly }: Props) {
  const set = (field: keyof AccountEntry) => (text: string) => onChange({ ...entry, [field]: text });
  return (
    <>
      {!passwordOnly && (
        <>
          <TextField
            label="Name"
            help="Edits and remarks stand under it."
            autoComplete="name"
            value={entry.name}
            onChange={set("name")}
            maxLength={200}
            required
          />
          <TextField
            label="E-mail address"
            type="email"
            autoComplete="username"
            value={entry.email}
            onChange={set("email")}
            required
          />
        </>
      )}
      <TextField
        label="Password"
        help="At least 10 characters; a few words that nobody would put together are good."
        type="password"
        autoComplete="new-password"
        value={entry.password}
        onChange={set("password")}
        required
      />
    </>
  );
}
