"use client";

import { useQuery } from "@tanstack/react-query";
import { isStudioRole, type StudioRole } from "@core/people/roles";
import type { Me } from "@core/people/views";
import { api } from "./api";

export const ME_KEY = ["me"] as const;

/** Whoever uses the page; `undefined` until it is known. */
export const useMe = (): Me | undefined =>
  useQuery({ queryKey: ME_KEY, queryFn: () => api("GET /api/me"), staleTime: 5 * 60_000 }).data;

/** Whether whoever uses the page has such a role in the studio, or a higher one. */
export function useIsStudioRole(role: StudioRole): boolean {
  const me = useMe();
  return me !== undefined && isStudioRole(me.role, role);
}
