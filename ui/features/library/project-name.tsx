"use client";

import { useQueryClient } from "@tanstack/react-query";
import Link from "next/link";
import { useState } from "react";
import { toast } from "sonner";
import type { ProjectSummary } from "@core/project/views";
import { api } from "@ui/api/api";

interface Props {
  project: Pick<ProjectSummary, "id" | "name">;
  isRenamed: boolean;
  onRenamed: () => void;
}

/** Leads to the project; a field while it is being renamed, which Enter keeps and Escape leaves as it was. */
export function ProjectName({ project: { id, name }, isRenamed, onRenamed }: Props) {
  const client = useQueryClient();
  const [typed, setTyped] = useState<string | null>(null);
  const keep = async () => {
    const next = typed?.trim() ?? name;
    onRenamed();
    setTyped(null);
    if (next === "" || next === name) return;
    try {
      await api("PATCH /api/projects/{project}", { params: { project: id }, body: { name: next } });
      await client.invalidateQueries({ queryKey: ["projects"] });
    } catch (error) {
      const description = error instanceof Error ? error.message : String(error);
      toast.error(`“${name}” keeps its name`, { description });
    }
  };
  if (!isRenamed)
    return (
      <Link href={`/projects/${id}`} className="font-semibold text-act hover:underline" title={name}>
        {name}
      </Link>
    );
  return (
    <input
      autoFocus
      aria-label={`Name of ${name}`}
      className="h-7 w-full rounded-[4px] border border-act bg-sheet px-1 font-semibold outline-none"
      value={typed ?? name}
      onChange={(event) => setTyped(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={() => void keep()}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") {
          setTyped(null);
          onRenamed();
        }
      }}
    />
  );
}
