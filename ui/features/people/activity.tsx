"use client";

import { Select } from "@ui/design-system/controls";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { format } from "date-fns";
import Link from "next/link";
import { useDeferredValue, useEffect, useState } from "react";
import type { AuditEntry } from "@core/people/views";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { PageHead } from "@ui/design-system/page-head";
import { SearchField } from "@ui/design-system/search-field";

const PAGE = 200;

/** The audit trail: who did what, when and from where. */
export function Activity() {
  const [words, setWords] = useState("");
  const [project, setProject] = useState("");
  const wanted = useDeferredValue(words.trim());
  const { data: projects = [] } = useQuery({
    queryKey: ["projects"],
    queryFn: () => api("GET /api/projects"),
  });
  const { data, error, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
    queryKey: ["activity", wanted, project],
    initialPageParam: 0,
    queryFn: ({ pageParam: before }) =>
      api("GET /api/activity", {
        query: { ...(before ? { before } : {}), ...(wanted ? { words: wanted } : {}), ...(project ? { project } : {}) },
      }),
    getNextPageParam: (page) => (page.length < PAGE ? undefined : page.at(-1)!.id),
  });
  useEffect(() => {
    document.title = "Activity · Resonum";
  }, []);
  const named = new Map(projects.map(({ id, name }) => [id, name]));
  const entries = data?.pages.flat();
  return (
    <div className="flex h-screen flex-col">
      <PageHead title="Activity" help="Who did what, when and from where. Nothing here is ever changed or removed." />
      <main className="mx-auto flex min-h-0 w-full max-w-[1120px] flex-1 flex-col gap-3 px-6 py-4">
        <div className="flex items-center gap-3">
          <SearchField
            label="Find by name, action or what it was about"
            words={words}
            onChange={setWords}
            className="h-8 w-72"
          />
          <label className="flex items-center gap-2 text-soft">
            project
            <Select
              label="project"
              value={project}
              options={["", ...named.keys()]}
              words={(id) => named.get(id) ?? "all"}
              onChange={setProject}
              className="h-8 max-w-64 text-ink"
            />
          </label>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto border border-hair bg-sheet">
          {error && <p className="p-6 text-outside">{error.message}</p>}
          {!entries && !error && <p className="p-6 text-soft">Reading the audit trail …</p>}
          {entries?.length === 0 && <p className="p-6 text-soft">Nothing of the kind was done yet.</p>}
          {entries && entries.length > 0 && (
            <table className="w-full" data-testid="activity">
              <thead className="text-left text-label text-soft">
                <tr className="border-b border-hair">
                  <th className="py-1 pl-3 font-normal">when</th>
                  <th className="font-normal">who</th>
                  <th className="font-normal">what</th>
                  <th className="font-normal">project</th>
                  <th className="pr-3 font-normal">from</th>
                </tr>
              </thead>
              <tbody>
                {entries.map((entry) => (
                  <EntryRow key={entry.id} entry={entry} project={named.get(entry.project_id ?? "")} />
                ))}
              </tbody>
            </table>
          )}
          {hasNextPage && (
            <Button className="m-3" disabled={isFetching} onClick={() => void fetchNextPage()}>
              Earlier ones
            </Button>
          )}
        </div>
      </main>
    </div>
  );
}

function EntryRow({ entry, project }: { entry: AuditEntry; project: string | undefined }) {
  const { at, person, token, action, subject, address, project_id: id } = entry;
  return (
    <tr className="border-t border-grid first:border-t-0">
      <td className="figure py-1 pl-3 whitespace-nowrap text-soft">{format(new Date(at), "yyyy-MM-dd HH:mm:ss")}</td>
      <td className="pr-3 [overflow-wrap:anywhere]">
        {person}
        {token && <span className="text-label text-soft"> by token “{token}”</span>}
      </td>
      <td className="pr-3 [overflow-wrap:anywhere]">
        {action}
        {subject && <span className="text-soft"> · {subject}</span>}
      </td>
      <td className="pr-3 [overflow-wrap:anywhere]">
        {id &&
          (project ? (
            <Link href={`/projects/${id}`} className="text-act hover:underline">
              {project}
            </Link>
          ) : (
            <span className="text-soft">removed</span>
          ))}
      </td>
      <td className="figure pr-3 whitespace-nowrap text-soft">{address ?? "–"}</td>
    </tr>
  );
}
