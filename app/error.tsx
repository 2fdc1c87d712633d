"use client";

import Link from "next/link";
import { Button } from "@ui/design-system/button";

/** Something in the page failed: what that means, and the ways out of it. */
export default function Failed({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <main className="mx-auto max-w-[560px] px-6 py-24">
      <h1 className="pb-2 text-head font-semibold">This page failed</h1>
      <p className="pb-2">What was saved is safe: every change is kept as it is made.</p>
      <p className="figure pb-4 text-label text-soft">{error.message}</p>
      <div className="flex gap-3">
        <Button kind="main" onClick={reset}>
          Try again
        </Button>
        <Link href="/" className="self-center text-act hover:underline">
          To the library
        </Link>
      </div>
    </main>
  );
}
