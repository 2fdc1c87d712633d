"use client";

import { useQueryClient } from "@tanstack/react-query";
import { usePathname } from "next/navigation";
import { useSignedOut } from "@ui/api/signed-out";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { SignInForm } from "./sign-in-form";

/** Asks whoever was signed out meanwhile to sign in again, over the page as it is: what they did waits, and is saved then. */
export function SignedOut() {
  const client = useQueryClient();
  const signedOut = useSignedOut((state) => state.signedOut);
  const path = usePathname();
  const isEntrance = path === "/sign-in" || path === "/join" || path === "/review";
  const goOn = () => {
    useSignedOut.setState({ signedOut: false });
    void client.invalidateQueries();
  };
  return (
    <SheetDialog
      open={signedOut && !isEntrance}
      onClose={() => useSignedOut.setState({ signedOut: false })}
      title="You were signed out"
      help="Nothing is lost: what you did since waits here, and is saved once you are signed in."
    >
      <SignInForm onSignedIn={goOn} />
    </SheetDialog>
  );
}
