"use client";

import { useQuery } from "@tanstack/react-query";
import { format } from "date-fns";
import { Headphones } from "lucide-react";
import Link from "next/link";
import { api } from "@ui/api/api";

/** Masters that wait to be heard by whoever has a part in their projects; nothing where there are none. */
export function OpenReviews() {
  const { data: reviews } = useQuery({ queryKey: ["open-reviews"], queryFn: () => api("GET /api/reviews") });
  if (!reviews || reviews.length === 0) return null;
  return (
    <section aria-label="Open reviews" className="border-t border-hair">
      <h2 className="px-4 pt-2 text-label text-soft">sent out for review</h2>
      <ul>
        {reviews.map(({ id, title, from, expires_at: until }) => (
          <li key={id} className="flex h-9 items-center gap-3 border-b border-grid px-4 hover:bg-act-ground">
            <Headphones size={14} aria-hidden className="text-soft" />
            <Link href={`/reviews/${id}`} className="min-w-0 truncate font-semibold text-act hover:underline">
              {title}
            </Link>
            <span className="text-label text-soft">
              from {from}, open until {format(new Date(until), "d MMMM yyyy")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
