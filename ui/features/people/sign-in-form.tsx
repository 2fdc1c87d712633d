"use client";

import { KeyRound } from "lucide-react";
import { useState, useSyncExternalStore } from "react";
import { api } from "@ui/api/api";
import { canUsePasskeys, signInByPasskey } from "@ui/api/passkeys";
import { Button } from "@ui/design-system/button";
import { ProblemLine } from "@ui/design-system/problem-line";
import { TextField } from "@ui/design-system/text-field";

const never = () => () => {};

/** E-mail address and password, or a passkey. @param onSignedIn told once it has worked */
export function SignInForm({ onSignedIn }: { onSignedIn: () => void }) {
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const hasPasskeys = useSyncExternalStore(never, canUsePasskeys, () => false);
  const attempt = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setProblem(null);
    try {
      await work();
      onSignedIn();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        void attempt(() => api("POST /api/sign-in", { body: { email: email.trim(), password } }));
      }}
    >
      <TextField
        label="E-mail address"
        type="email"
        autoComplete="username webauthn"
        value={email}
        onChange={setEmail}
        required
        autoFocus
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={setPassword}
        required
      />
      <ProblemLine words={problem} />
      <div className="flex items-center gap-2">
        <Button kind="main" type="submit" className="h-8" disabled={isBusy || email === "" || password === ""}>
          Sign in
        </Button>
        {hasPasskeys && (
          <Button className="h-8" disabled={isBusy} onClick={() => void attempt(signInByPasskey)}>
            <KeyRound size={14} /> With a passkey
          </Button>
        )}
      </div>
      <p className="text-label text-soft">Forgotten? An owner of the studio makes you a link for another password.</p>
    </form>
  );
}
