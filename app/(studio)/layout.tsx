import { headers } from "next/headers";
import { redirect } from "next/navigation";
import type { ReactNode } from "react";
import { ServerEvents } from "@ui/api/server-events";
import { whenReady } from "@server/ingest/startup";
import { principalOf } from "@server/people/identify";

/** Whoever is signed in, or has to; `undefined` while the database does not answer: the page says so by itself. */
async function principal(given: Headers) {
  try {
    await whenReady();
    return await principalOf(new Request("http://studio", { headers: given }));
  } catch {
    return undefined;
  }
}

/** Pages for whoever is signed in. Nothing in them is secret: all they show they ask for by routes that look themselves. */
export default async function Layout({ children }: { children: ReactNode }) {
  const given = await headers();
  if ((await principal(given)) === null) redirect(`/sign-in?next=${encodeURIComponent(given.get("x-place") ?? "/")}`);
  return (
    <>
      <ServerEvents />
      {children}
    </>
  );
}
