"use client";

import { useEffect, useState } from "react";
import type { TemplateId } from "@core/project/templates";
import { arrangementFor, saveArrangement, useArrangements } from "./arrangement";
import { ArrangementMenu } from "./arrangement-menu";
import { MeterSourceProvider, type MeterSource } from "./meter-source";
import { MeterStack } from "./meter-stack";

interface Offered {
  meters: MeterSource;
  template: TemplateId;
}

/** What a window with a project lends to one that only holds meters: memory and all, for both are one origin. */
const OFFER = "resonumMeters";

type OfferingWindow = Window & { [OFFER]?: Offered };

/** Lends the meters of this window to those that it opens. */
export function offerMeters(offered: Offered): void {
  (window as OfferingWindow)[OFFER] = offered;
}

export function openMeterWindow(): void {
  window.open("/meters", "resonum-meters", "popup,width=560,height=760");
}

const LOOK_EVERY_MS = 500;

/** Meters alone, of the project that is open in the window behind. */
export function MeterWindow() {
  const [offered, setOffered] = useState<Offered | null | undefined>(undefined);
  useEffect(() => {
    const look = () => {
      const opener = window.opener as OfferingWindow | null;
      setOffered(opener && !opener.closed ? (opener[OFFER] ?? null) : null);
    };
    look();
    const timer = setInterval(look, LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  const kept = useArrangements();
  if (offered === undefined) return <main className="p-6 text-soft">Looking for the project …</main>;
  if (offered === null)
    return (
      <main className="p-6">
        <h1 className="text-head font-semibold">There is nothing to meter.</h1>
        <p className="mt-2 max-w-prose text-soft">
          This window shows the meters of a project that is open in another one. Open a project, and choose “Meters in a
          window of their own” there. If that window was closed or loaded anew, open the meters from it again.
        </p>
      </main>
    );
  const { meters, template } = offered;
  const arrangement = arrangementFor(template, kept);
  return (
    <MeterSourceProvider value={{ ...meters, scale: arrangement.scale, scheme: arrangement.scheme }}>
      <main className="flex h-screen flex-col bg-sheet">
        <div className="flex items-center gap-2 border-b border-hair px-2">
          <ArrangementMenu arrangement={arrangement} template={template} />
          <button type="button" className="ml-auto text-label text-act" onClick={meters.reset}>
            reset
          </button>
        </div>
        <div className="min-h-0 flex-1 columns-[230px] gap-0 overflow-y-auto [&>section]:break-inside-avoid">
          <MeterStack arrangement={arrangement} onChange={saveArrangement} />
        </div>
      </main>
    </MeterSourceProvider>
  );
}
