"use client";

import { addressOf } from "@ui/api/api";
import { Download, ShieldCheck } from "lucide-react";
import { isOwnContainer } from "@core/files/containers";
import { formatBytes } from "@core/audio/format";
import { containerOf } from "@core/delivery/recipe";
import { Button } from "@ui/design-system/button";
import type { Cell } from "@core/project/board";
import { useRenderVerification } from "./use-render-verification";

/** The file of a finished master: to be taken, reported on, and proven. */
export function FileLine({ cell }: { cell: Cell }) {
  const { master, source } = cell;
  const proof = useRenderVerification();
  if (!master?.file_hash || !source) return null;
  const { format } = master.inputs.recipe;
  const link = "text-act hover:underline";
  const { channels } = master.result!.figures;
  const params = { master: master.id };
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1">
      <a
        href={addressOf("GET /api/masters/{master}/file", { params })}
        download
        className="inline-flex h-7 items-center gap-1.5 rounded-[4px] bg-act px-2.5 text-on-act hover:opacity-90"
      >
        <Download size={14} /> Download {containerOf(format).name} · {formatBytes(master.file_bytes ?? 0)}
      </a>
      <span>
        report:{" "}
        <a
          href={addressOf("GET /api/masters/{master}/report", { params, query: { kind: "html" } })}
          download
          className={link}
        >
          HTML
        </a>{" "}
        ·{" "}
        <a
          href={addressOf("GET /api/masters/{master}/report", { params, query: { kind: "pdf" } })}
          download
          className={link}
        >
          PDF
        </a>
      </span>
      {channels > 1 && isOwnContainer(format.container) && format.container !== "aiff" && (
        <a
          href={addressOf("GET /api/masters/{master}/channels", { params })}
          download
          className={link}
          title="One mono WAV file a channel"
        >
          one file a channel
        </a>
      )}
      <Button
        onClick={() => proof.start(master, source)}
        disabled={proof.state.status === "running"}
        hint={
          master.sound_hash
            ? "Renders the sound once more, here in the browser by the same core, and compares it with what the server encoded"
            : "Renders it once more, here in the browser by the same core, and compares the bytes with the server's file"
        }
      >
        <ShieldCheck size={14} /> Verify the bytes
      </Button>
      <span className="text-label" role="status">
        {proof.state.status === "running" && `rendering here, ${Math.round(proof.state.fraction * 100)} %`}
        {proof.state.status === "same" && (
          <span className="text-inside">● the same bytes in the browser and on the server</span>
        )}
        {proof.state.status === "different" && (
          <span className="text-outside">▲ the bytes differ: please keep both files and report it</span>
        )}
        {proof.state.status === "failed" && <span className="text-outside">{proof.state.message}</span>}
      </span>
      <span className="figure block w-full truncate text-label text-soft" title={master.file_hash}>
        SHA-256 {master.file_hash}
      </span>
    </div>
  );
}
