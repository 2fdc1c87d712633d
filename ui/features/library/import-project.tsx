"use client";

import { useQueryClient } from "@tanstack/react-query";
import { FolderInput } from "lucide-react";
import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { counted } from "@core/audio/format";
import { sendFile } from "@ui/api/send-file";
import { Button } from "@ui/design-system/button";
import { ProgressBar } from "@ui/design-system/progress-bar";

/** Takes a project in that was exported, and opens it. */
export function ImportProject() {
  const input = useRef<HTMLInputElement>(null);
  const [sent, setSent] = useState<number | null>(null);
  const router = useRouter();
  const client = useQueryClient();
  const take = async (file: File) => {
    setSent(0);
    try {
      const { id, missing } = await sendFile("POST /api/projects/import", file, setSent);
      await client.invalidateQueries({ queryKey: ["projects"] });
      if (missing.length > 0)
        toast.warning(`${counted(missing.length, "recording")} did not come with it`, {
          description: `Add ${missing.join(", ")} in Intake: they are known by their content.`,
        });
      router.push(`/projects/${id}`);
    } catch (error) {
      toast.error(`“${file.name}” was not imported`, { description: (error as Error).message });
    } finally {
      setSent(null);
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        className="hidden"
        aria-label="Project file"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          event.target.value = ""; // the same file can be chosen again
          if (file) void take(file);
        }}
      />
      {sent === null ? (
        <Button
          className="h-8"
          onClick={() => input.current?.click()}
          hint="A project that was exported, from a zip file"
        >
          <FolderInput size={14} /> Import
        </Button>
      ) : (
        <span className="flex items-center gap-2 text-label text-soft" role="status">
          {sent < 1 ? "Sending" : "Importing"}
          <span className="w-24">
            <ProgressBar fraction={sent} label="Importing" />
          </span>
        </span>
      )}
    </>
  );
}
