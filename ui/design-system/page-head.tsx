import { AudioWaveform } from "lucide-react";
import Link from "next/link";
import type { ReactNode } from "react";

interface Props {
  title: string;
  /** What the page is for, in a sentence. */
  help: string;
  /** What can be done with all of it. */
  children?: ReactNode;
}

/** The head of a page beside the workspace: the way back to the library, its name, and what it is for. */
export function PageHead({ title, help, children }: Props) {
  return (
    <header className="flex h-14 shrink-0 items-center gap-4 border-b border-hair bg-sheet px-6">
      <Link href="/" className="flex items-center gap-2 text-head font-semibold hover:text-act">
        <AudioWaveform size={19} aria-hidden /> Resonum
      </Link>
      <h1 className="text-head">{title}</h1>
      <p className="text-label text-soft">{help}</p>
      {children && <span className="ml-auto">{children}</span>}
    </header>
  );
}
