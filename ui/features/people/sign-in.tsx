"use client";

import { Entrance } from "./entrance";
import { SignInForm } from "./sign-in-form";

/** Only places within the studio are gone to. */
const isOwn = (place: string | null): place is string => place !== null && /^\/(?![/\\])/.test(place);

/** The page that asks who somebody is, and goes on to where they wanted to be. */
export function SignIn() {
  const goOn = () => {
    const wanted = new URLSearchParams(location.search).get("next");
    location.assign(isOwn(wanted) ? wanted : "/");
  };
  return (
    <Entrance title="Sign in">
      <SignInForm onSignedIn={goOn} />
    </Entrance>
  );
}
