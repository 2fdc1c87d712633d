"use client";

import { Copy } from "lucide-react";
import { toast } from "sonner";
import { Button } from "@ui/design-system/button";

/** Something that is told this once: a link, or a token. */
export function SecretShown({ label, secret, onDone }: { label: string; secret: string; onDone: () => void }) {
  const copy = () =>
    navigator.clipboard.writeText(secret).then(
      () => toast("Copied"),
      () => toast.error("The browser did not let it be copied", { description: "Mark it and copy it by hand." }),
    );
  return (
    <div role="status" className="flex items-center gap-2 border border-act bg-act-ground px-3 py-2">
      <label className="flex min-w-0 flex-1 items-center gap-2">
        <span className="whitespace-nowrap">{label}</span>
        <input
          readOnly
          value={secret}
          onFocus={(event) => event.target.select()}
          className="figure h-7 min-w-0 flex-1 rounded-[4px] border border-hair bg-sheet px-2"
        />
      </label>
      <Button onClick={() => void copy()}>
        <Copy size={13} /> Copy
      </Button>
      <Button kind="quiet" onClick={onDone}>
        Done
      </Button>
    </div>
  );
}
