import { AudioWaveform } from "lucide-react";
import type { ReactNode } from "react";

/** A page for whoever is not signed in: one thing to do, on its own sheet. */
export function Entrance({ title, help, children }: { title: string; help?: string; children: ReactNode }) {
  return (
    <main className="flex min-h-screen items-start justify-center bg-paper px-4 pt-[14vh] pb-10">
      <div className="w-[400px] max-w-full border border-hair bg-sheet">
        <header className="border-b border-hair px-5 py-4">
          <p className="flex items-center gap-2 text-label text-soft">
            <AudioWaveform size={15} aria-hidden /> Resonum
          </p>
          <h1 className="pt-1 text-head font-semibold">{title}</h1>
          {help && <p className="text-soft">{help}</p>}
        </header>
        <div className="px-5 py-4">{children}</div>
      </div>
    </main>
  );
}
