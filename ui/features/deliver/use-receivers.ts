"use client";

import { useQuery } from "@tanstack/react-query";
import { api } from "@ui/api/api";

export interface ReceiverAbout {
  id: string;
  name: string;
  help: string;
}

/** Where masters can be handed over to; undefined until that is known. */
export const useReceivers = (): ReceiverAbout[] | undefined =>
  useQuery({
    queryKey: ["receivers"],
    staleTime: Infinity,
    queryFn: () => api("GET /api/receivers"),
  }).data;
