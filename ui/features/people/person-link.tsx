"use client";

import { User } from "lucide-react";
import Link from "next/link";
import { useMe } from "@ui/api/me";

/** Whoever is signed in, with the way to their account; nothing where the studio has no accounts. */
export function PersonLink() {
  const person = useMe()?.person;
  if (!person) return null;
  return (
    <Link href="/account" className="flex max-w-48 items-center gap-1.5 text-act hover:underline">
      <User size={14} aria-hidden className="shrink-0" /> <span className="truncate">{person.name}</span>
    </Link>
  );
}
