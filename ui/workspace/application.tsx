"use client";

import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { useState, type ReactNode } from "react";
import { Toaster } from "sonner";
import { SignedOut } from "../features/people/signed-out";
import { SheetChoice } from "../design-system/sheet";

// What an edit changes is on the screen before the next key or click is taken: quick ones build on one another.
notifyManager.setScheduler(queueMicrotask);

/** What every page stands in. */
export function Application({ children }: { children: ReactNode }) {
  const [client] = useState(
    () => new QueryClient({ defaultOptions: { queries: { staleTime: 30_000, retry: 2, refetchOnWindowFocus: true } } }),
  );
  return (
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={500}>
        <SheetChoice />
        {children}
        <SignedOut />
        <Toaster
          position="bottom-center"
          toastOptions={{
            style: { background: "var(--sheet)", color: "var(--ink)", borderColor: "var(--hair)", borderRadius: 4 },
          }}
        />
      </Tooltip.Provider>
    </QueryClientProvider>
  );
}
