"use client";

import { useEffect, useState, type DragEvent, type ReactNode } from "react";
import { goToStage } from "@ui/state/workspace-store";
import { uploadFiles, useUploads } from "../../api/uploads";

/** Takes files dropped anywhere on what it holds. */
export function DropAnywhere({ project, children }: { project: string; children: ReactNode }) {
  const [over, setOver] = useState(false);
  const busy = useUploads(({ uploads }) => uploads.some(({ state }) => state !== "failed"));

  useEffect(() => {
    if (!busy) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [busy]);

  const hasFiles = (event: DragEvent) => event.dataTransfer.types.includes("Files");
  return (
    <div
      className="relative h-full"
      onDragOver={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => !event.currentTarget.contains(event.relatedTarget as Node | null) && setOver(false)}
      onDrop={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(false);
        goToStage("intake");
        void uploadFiles(project, Array.from(event.dataTransfer.files));
      }}
    >
      {children}
      {over && (
        <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded-[4px] border-2 border-dashed border-act bg-act-ground/80 text-head font-semibold text-act">
          Drop to import these files
        </div>
      )}
    </div>
  );
}
