"use client";

import { Select } from "@ui/design-system/controls";
import { useQuery } from "@tanstack/react-query";
import { formatDistanceToNowStrict } from "date-fns";
import { AudioWaveform, Moon, Plus, Sun } from "lucide-react";
import Link from "next/link";
import { useEffect, useState } from "react";
import type { ProjectStatus, ProjectSummary, Shelf } from "@core/project/views";
import { parseMediaQuery, type MediaQuery } from "@core/project/media-query";
import { TEMPLATES } from "@core/project/templates";
import { formatTime } from "@core/audio/format";
import { api } from "@ui/api/api";
import { Button } from "@ui/design-system/button";
import { SearchField } from "@ui/design-system/search-field";
import { useSheet } from "@ui/design-system/sheet";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { useIsStudioRole } from "@ui/api/me";
import { PersonLink } from "@ui/features/people/person-link";
import { ImportProject } from "./import-project";
import { MediaResults } from "./media-results";
import { NewProject } from "./new-project";
import { OpenReviews } from "./open-reviews";
import { ProjectMenu } from "./project-menu";
import { ProjectName } from "./project-name";

const ORDERS = {
  changed: {
    words: "last changed",
    by: (a: ProjectSummary, b: ProjectSummary) => b.changed_at.localeCompare(a.changed_at),
  },
  name: { words: "name", by: (a: ProjectSummary, b: ProjectSummary) => a.name.localeCompare(b.name) },
  standing: {
    words: "standing",
    by: (a: ProjectSummary, b: ProjectSummary) =>
      b.standing.mastersFailed - a.standing.mastersFailed || missing(b.standing) - missing(a.standing),
  },
  length: { words: "length", by: (a: ProjectSummary, b: ProjectSummary) => b.seconds - a.seconds },
} as const;
type Order = keyof typeof ORDERS;

const missing = ({ mastersWanted, mastersPassed, mastersFailed }: ProjectStatus) =>
  mastersWanted - mastersPassed - mastersFailed;

/** Figures and verdicts are asked of recordings and masters: of projects the words. */
const asksOfMedia = ({ conditions, verdict }: MediaQuery): boolean => conditions.length > 0 || verdict !== null;
const isFound = (query: MediaQuery, text: string): boolean =>
  !asksOfMedia(query) && query.words.every((word) => text.toLowerCase().includes(word));

/** All projects, with where they stand; recordings and masters of all of them, where they are looked for. */
export function Library() {
  const { data: projects, error } = useQuery({
    queryKey: ["projects"],
    queryFn: () => api("GET /api/projects"),
  });
  const [wanted, setWanted] = useState("");
  const [order, setOrder] = useState<Order>("changed");
  const [creating, setCreating] = useState(false);
  const [shelf, setShelf] = useState<Shelf | null>(null);
  const { sheet, toggle } = useSheet();
  const isOwner = useIsStudioRole("owner");
  const isEngineer = useIsStudioRole("engineer");
  const makesProjects = useIsStudioRole("assistant");
  useEffect(() => {
    document.title = "Resonum";
  }, []);
  const query = parseMediaQuery(wanted);
  const shown = projects
    ?.filter((project) => project.shelf === shelf)
    .filter(({ name, template }) => isFound(query, `${name} ${templateName(template)}`))
    .sort(ORDERS[order].by);
  return (
    <div className="flex h-screen flex-col">
      <header className="flex h-14 items-center gap-4 border-b border-hair bg-sheet px-6">
        <h1 className="flex items-center gap-2 text-head font-semibold">
          <AudioWaveform size={19} aria-hidden /> Resonum
        </h1>
        <p className="text-soft">The finishing desk for sound</p>
        <nav className="ml-auto flex items-center gap-4">
          <Link href="/measure" className="text-act hover:underline">
            Batch measure
          </Link>
          <Link href="/proof" className="text-act hover:underline">
            Proof of the meter
          </Link>
          {isEngineer && (
            <>
              <Link href="/operations" className="text-act hover:underline">
                Operations
              </Link>
              <Link href="/people" className="text-act hover:underline">
                People
              </Link>
            </>
          )}
          {isOwner && (
            <Link href="/activity" className="text-act hover:underline">
              Activity
            </Link>
          )}
          <PersonLink />
        </nav>
        <Button onClick={toggle} hint={sheet === "light" ? "A dark sheet, for dark rooms" : "The light sheet"}>
          {sheet === "light" ? <Moon size={14} /> : <Sun size={14} />}{" "}
          {sheet === "light" ? "Dark sheet" : "Light sheet"}
        </Button>
      </header>
      <main className="mx-auto flex min-h-0 w-full max-w-[1120px] flex-1 flex-col px-6 py-5">
        <div className="mb-3 flex items-center gap-3">
          <SearchField
            label="Find a project, recording or master"
            words={wanted}
            onChange={setWanted}
            className="h-8 w-72"
            hint="By figures as well: true peak over −1, loudness under −20, outside, no verdict"
          />
          <label className="flex items-center gap-2 text-soft">
            ordered by
            <Select
              label="ordered by"
              value={order}
              options={Object.keys(ORDERS) as Order[]}
              words={(key) => ORDERS[key].words}
              onChange={setOrder}
              className="h-8 text-ink"
            />
          </label>
          <ShelfChoice projects={projects ?? []} shelf={shelf} onChoose={setShelf} />
          <div className="ml-auto flex items-center gap-2">
            {makesProjects && (
              <>
                <ImportProject />
                <Button kind="main" className="h-8" onClick={() => setCreating(true)}>
                  <Plus size={15} /> New project
                </Button>
              </>
            )}
          </div>
        </div>
        <div className="min-h-0 flex-1 overflow-y-auto border border-hair bg-sheet">
          {error && <p className="p-6 text-outside">{error.message}</p>}
          {!projects && !error && <p className="p-6 text-soft">Looking into the library …</p>}
          {projects?.length === 0 && (
            <p className="p-6 text-soft">
              {makesProjects
                ? "No projects yet. “New project” makes one from a template."
                : "You were not given a project yet: whoever invited you can do so."}
            </p>
          )}
          {shown && shown.length === 0 && projects!.length > 0 && !asksOfMedia(query) && (
            <p className="p-6 text-soft">
              {wanted ? `No project is called “${wanted.trim()}”.` : EMPTY_SHELVES[shelf ?? "current"]}
            </p>
          )}
          {shown && shown.length > 0 && (
            <table className="w-full">
              <thead className="text-left text-label text-soft">
                <tr className="h-8 border-b border-hair">
                  <td className="w-9" />
                  <th className="font-normal">project</th>
                  <th className="w-40 font-normal">kind</th>
                  <th className="w-20 text-right font-normal">items</th>
                  <th className="w-24 text-right font-normal">length</th>
                  <th className="w-[23rem] pl-8 font-normal">standing</th>
                  <th className="w-32 pr-4 text-right font-normal">changed</th>
                  <td className="w-10" />
                </tr>
              </thead>
              <tbody>
                {shown.map((project) => (
                  <ProjectRow key={project.id} project={project} />
                ))}
              </tbody>
            </table>
          )}
          {wanted === "" && shelf === null && <OpenReviews />}
          {projects && <MediaResults typed={wanted} projects={new Map(projects.map(({ id, name }) => [id, name]))} />}
        </div>
      </main>
      <NewProject open={creating} onClose={() => setCreating(false)} />
    </div>
  );
}

const EMPTY_SHELVES: Record<Shelf | "current", string> = {
  current: "No project is being worked on: all are in the archive or in the bin.",
  archive: "The archive is empty. A project is put into it by its menu, and stays as it is.",
  bin: "The bin is empty. What is deleted lies here for a month.",
};

/** Which projects are listed: those that are worked on, or one of the shelves. */
function ShelfChoice(props: {
  projects: ProjectSummary[];
  shelf: Shelf | null;
  onChoose: (shelf: Shelf | null) => void;
}) {
  const { projects, shelf, onChoose } = props;
  const count = (of: Shelf | null) => projects.filter((project) => project.shelf === of).length;
  const choices: [Shelf | null, string][] = [
    [null, "current"],
    ["archive", "archive"],
    ["bin", "bin"],
  ];
  return (
    <div role="group" aria-label="Which projects" className="flex overflow-hidden rounded-[4px] border border-hair">
      {choices.map(([of, words]) => (
        <button
          key={words}
          type="button"
          aria-pressed={of === shelf}
          onClick={() => onChoose(of)}
          className={`h-8 border-r border-hair px-2.5 last:border-r-0 ${of === shelf ? "bg-act-ground font-semibold text-act" : ""}`}
        >
          {words} <span className="figure text-label text-soft">{count(of)}</span>
        </button>
      ))}
    </div>
  );
}

const templateName = (id: string): string => TEMPLATES.find((template) => template.id === id)?.name ?? id;

function ProjectRow({ project }: { project: ProjectSummary }) {
  const { standing } = project;
  const [isRenamed, setRenamed] = useState(false);
  return (
    <tr className="h-11 border-b border-grid hover:bg-act-ground">
      <td className="pl-4">
        <ComplianceMark status={standing.standing} />
      </td>
      <td className="max-w-0 truncate pr-4">
        <ProjectName project={project} isRenamed={isRenamed} onRenamed={() => setRenamed(false)} />
      </td>
      <td>{templateName(project.template)}</td>
      <td className="figure text-right">{project.items}</td>
      <td className="figure text-right">{formatTime(project.seconds)}</td>
      <td className="pl-8">{standingWords(standing)}</td>
      <td className="pr-4 text-right text-soft" title={new Date(project.changed_at).toLocaleString()}>
        {formatDistanceToNowStrict(new Date(project.changed_at))} ago
      </td>
      <td className="pr-2">
        <ProjectMenu project={project} onRename={() => setRenamed(true)} />
      </td>
    </tr>
  );
}

function standingWords({ mastersWanted, mastersPassed, mastersFailed, predicted, deliverable }: ProjectStatus): string {
  if (mastersWanted === 0) return deliverable ? `empty, for ${deliverable}` : "no deliverable yet";
  const parts = [`${mastersPassed} of ${mastersWanted} masters pass`];
  if (mastersFailed) parts.push(`${mastersFailed} fail`);
  if (predicted?.inside) parts.push(`${predicted.inside} predicted inside`);
  if (predicted?.outside) parts.push(`${predicted.outside} predicted outside`);
  return parts.join(", ");
}
