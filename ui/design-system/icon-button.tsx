import type { ReactNode } from "react";

/** A small button of one icon; its words are told on hover and to readers of the screen. */
export function IconButton({
  label,
  disabled,
  onClick,
  children,
}: {
  label: string;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
      className="rounded-[4px] p-1 text-act hover:bg-act-ground disabled:text-hair"
    >
      {children}
    </button>
  );
}
