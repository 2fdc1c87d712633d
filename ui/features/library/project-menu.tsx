"use client";

import { useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { isStudioRole } from "@core/people/roles";
import type { ProjectSummary, Shelf } from "@core/project/views";
import { addressOf, api } from "@ui/api/api";
import { useMe } from "@ui/api/me";
import { ProjectMembers } from "@ui/features/people/project-members";

const ENTRY = "rounded-[3px] px-2 py-1 outline-none data-highlighted:bg-act-ground data-highlighted:text-act";

const PUT_AWAY: Record<Shelf, string> = { archive: "was put into the archive", bin: "lies in the bin" };

interface Props {
  project: ProjectSummary;
  onRename: () => void;
}

/** A file that the browser fetches by itself. */
function Download({ href, children }: { href: string; children: string }) {
  return (
    <DropdownMenu.Item asChild>
      <a href={href} download className={`${ENTRY} block`}>
        {children}
      </a>
    </DropdownMenu.Item>
  );
}

/** What can be done with a project from outside: each but the last can be taken back. */
export function ProjectMenu({ project: { id, name, shelf }, onRename }: Props) {
  const me = useMe();
  const [isSharing, setSharing] = useState(false);
  const givesParts = me !== undefined && me.person !== null && isStudioRole(me.role, "engineer");
  const client = useQueryClient();
  const isRenaming = useRef(false);
  /** Whether it was asked if the project is to go for good. */
  const [isAsked, setAsked] = useState(false);
  const rename = () => void (isRenaming.current = true);
  const ask = async (work: () => Promise<unknown>, failed: string) => {
    try {
      await work();
      await client.invalidateQueries({ queryKey: ["projects"] });
      return true;
    } catch (error) {
      toast.error(failed, { description: error instanceof Error ? error.message : String(error) });
      return false;
    }
  };
  const shelve = (next: Shelf | null) =>
    ask(
      () => api("PATCH /api/projects/{project}", { params: { project: id }, body: { shelf: next } }),
      `“${name}” was not moved`,
    );
  const putAway = async (next: Shelf) => {
    if (!(await shelve(next))) return;
    toast(`“${name}” ${PUT_AWAY[next]}`, { action: { label: "Undo", onClick: () => void shelve(shelf) } });
  };
  const copy = () =>
    ask(() => api("POST /api/projects/{project}/copy", { params: { project: id } }), `“${name}” was not duplicated`);
  const remove = () =>
    ask(() => api("DELETE /api/projects/{project}", { params: { project: id } }), `“${name}” was not removed`);
  const entry = (words: string, run: () => unknown, more = "") => (
    <DropdownMenu.Item className={`${ENTRY} ${more}`} onSelect={() => void run()}>
      {words}
    </DropdownMenu.Item>
  );
  return (
    <>
      <DropdownMenu.Root onOpenChange={() => setAsked(false)}>
        <DropdownMenu.Trigger
          aria-label={`More for ${name}`}
          className="rounded-[4px] p-1 text-act hover:bg-act-ground"
        >
          <MoreHorizontal size={15} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            onCloseAutoFocus={(event) => {
              // The field of the name comes once the menu has let go of the focus.
              if (!isRenaming.current) return;
              isRenaming.current = false;
              event.preventDefault();
              onRename();
            }}
            className="z-50 w-72 rounded-[4px] border border-hair bg-sheet p-1"
          >
            {shelf !== "bin" && entry("Rename", rename)}
            {shelf !== "bin" && entry("Duplicate, without history and masters", copy)}
            {shelf !== "bin" && (
              <>
                <Download href={addressOf("GET /api/projects/{project}/export", { params: { project: id } })}>
                  Export with its recordings
                </Download>
                <Download
                  href={addressOf("GET /api/projects/{project}/export", {
                    params: { project: id },
                    query: { recordings: "without" },
                  })}
                >
                  Export without recordings
                </Download>
              </>
            )}
            {givesParts && shelf !== "bin" && entry("People …", () => setSharing(true))}
            {shelf === null && entry("Archive", () => putAway("archive"))}
            {shelf !== null &&
              entry(shelf === "bin" ? "Take out of the bin" : "Take out of the archive", () => shelve(null))}
            {shelf !== "bin" && entry("Delete", () => putAway("bin"))}
            {shelf === "bin" &&
              (isAsked ? (
                entry("Yes, with its history and masters", remove, "text-outside")
              ) : (
                <DropdownMenu.Item
                  className={ENTRY}
                  onSelect={(event) => {
                    event.preventDefault(); // the menu stays for the answer
                    setAsked(true);
                  }}
                >
                  Remove for good …
                </DropdownMenu.Item>
              ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {givesParts && <ProjectMembers project={{ id, name }} open={isSharing} onClose={() => setSharing(false)} />}
    </>
  );
}
