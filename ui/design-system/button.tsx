import clsx from "clsx";
import type { ButtonHTMLAttributes, ReactNode } from "react";
import { Hint } from "./hint";

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** What it does, in words, for the tooltip. */
  hint?: string;
  /** Key that does the same. */
  shortcut?: string;
  kind?: "main" | "plain" | "quiet";
  children: ReactNode;
}

const KINDS = {
  main: "bg-act text-on-act border-act hover:opacity-90",
  plain: "bg-sheet text-ink border-hair hover:border-act",
  quiet: "bg-transparent text-act border-transparent hover:bg-act-ground",
};

export function Button({ hint, shortcut, kind = "plain", className, children, ...rest }: Props) {
  const button = (
    <button
      type="button"
      className={clsx(
        "inline-flex h-7 items-center justify-center gap-1.5 rounded-[4px] border px-2.5 [&_svg]:shrink-0 text-body whitespace-nowrap disabled:cursor-not-allowed disabled:opacity-45",
        KINDS[kind],
        className,
      )}
      {...rest}
    >
      {children}
    </button>
  );
  return hint ? (
    <Hint text={hint} shortcut={shortcut}>
      {button}
    </Hint>
  ) : (
    button
  );
}
