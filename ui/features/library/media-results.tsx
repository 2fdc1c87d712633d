"use client";

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import Link from "next/link";
import { useEffect, useState, type ReactNode } from "react";
import { counted, formatDb, formatTime } from "@core/audio/format";
import type { ComplianceStatus } from "@core/delivery/compliance";
import type { Figures } from "@core/measure";
import { conditionWords, isAnything, parseMediaQuery } from "@core/project/media-query";
import type { FoundMaster, FoundRecording } from "@core/project/media-view";
import { api } from "@ui/api/api";
import { ComplianceMark } from "@ui/design-system/compliance-mark";

const SETTLED_MS = 250;

/** What was typed, once it has not changed for a moment. */
function useSettled(typed: string): string {
  const [settled, setSettled] = useState(typed);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(typed), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [typed]);
  return settled;
}

const VERDICTS = { pass: "inside", fail: "outside", none: "without a verdict" } as const;

interface Props {
  typed: string;
  /** Names of projects by their ids; those that are put away are among them. */
  projects: ReadonlyMap<string, string>;
}

/** Recordings and masters of all projects that fit what was typed. */
export function MediaResults({ typed, projects }: Props) {
  const query = parseMediaQuery(typed);
  const settled = useSettled(typed);
  const { data, error } = useQuery({
    queryKey: ["media", settled],
    queryFn: () => api("GET /api/media", { query: { q: settled } }),
    enabled: !isAnything(parseMediaQuery(settled)),
    placeholderData: keepPreviousData,
  });
  if (isAnything(query)) return null;
  if (error) return <p className="p-6 text-outside">{error.message}</p>;
  if (!data) return <p className="p-6 text-soft">Looking through recordings and masters …</p>;
  const asked = query.conditions.map(conditionWords).join(" and ");
  return (
    <>
      {query.verdict === null && (
        <Found title="Recordings" count={data.recordings.length} more={data.moreRecordings} asked={asked}>
          {data.recordings.map((recording) => (
            <RecordingRow key={recording.hash} recording={recording} projects={projects} />
          ))}
        </Found>
      )}
      <Found
        title="Masters"
        count={data.masters.length}
        more={data.moreMasters}
        asked={[...(query.verdict ? [VERDICTS[query.verdict]] : []), ...(asked ? [asked] : [])].join(", ")}
      >
        {data.masters.map((master) => (
          <MasterRow key={master.id} master={master} projects={projects} />
        ))}
      </Found>
    </>
  );
}

interface FoundProps {
  title: string;
  count: number;
  more: boolean;
  /** What is asked of figures, in words. */
  asked: string;
  children: ReactNode;
}

function Found({ title, count, more, asked, children }: FoundProps) {
  return (
    <section aria-label={title} className="border-t border-hair">
      <h2 className="px-4 py-2">
        {title}{" "}
        <span className="text-label text-soft">
          {more ? `the latest ${count}: more words narrow it down` : count === 0 ? "none" : count}
          {asked && `, ${asked}`}
        </span>
      </h2>
      {count > 0 && (
        <table className="w-full table-fixed">
          <thead className="text-left text-label text-soft">
            <tr className="border-y border-hair">
              <th className="w-72 py-1 pl-4 font-normal">{title === "Masters" ? "master" : "recording"}</th>
              <th className="w-56 font-normal">project</th>
              <th className="font-normal">{title === "Masters" ? "specification" : "encoding"}</th>
              <th className="w-16 text-right font-normal">LUFS</th>
              <th className="w-16 text-right font-normal">dBTP</th>
              <th className="w-20 text-right font-normal">range LU</th>
              <th className="w-24 text-right font-normal">floor dBFS</th>
              <th className="w-20 pr-4 text-right font-normal">length</th>
            </tr>
          </thead>
          <tbody>{children}</tbody>
        </table>
      )}
    </section>
  );
}

function FigureCells({ figures }: { figures: Figures | null }) {
  const level = (value: number | null | undefined) => (figures ? formatDb(value ?? null) : "–");
  return (
    <>
      <td className="figure text-right">{level(figures?.integratedLufs)}</td>
      <td className="figure text-right">{level(figures?.truePeakDbtp)}</td>
      <td className="figure text-right">{level(figures?.loudnessRangeLu)}</td>
      <td className="figure text-right">{level(figures?.noiseFloorDbfs)}</td>
      <td className="figure pr-4 text-right">{figures ? formatTime(figures.durationSeconds) : "–"}</td>
    </>
  );
}

function ProjectLinks({ ids, projects }: { ids: readonly string[]; projects: Props["projects"] }) {
  const known = ids.filter((id) => projects.has(id));
  if (known.length === 0) return <span className="text-soft">in no project</span>;
  const [first, ...others] = known;
  return (
    <>
      <Link href={`/projects/${first}`} className="text-act hover:underline">
        {projects.get(first!)}
      </Link>
      {others.length > 0 && (
        <span className="text-soft" title={others.map((id) => projects.get(id)).join(", ")}>
          {" "}
          and {counted(others.length, "other")}
        </span>
      )}
    </>
  );
}

const ROW = "border-b border-grid last:border-b-0";

function RecordingRow({ recording, projects }: { recording: FoundRecording; projects: Props["projects"] }) {
  const { name, projects: ids, encoding, figures, problem } = recording;
  return (
    <tr className={ROW}>
      <td className="py-1.5 pl-4 [overflow-wrap:anywhere]">
        {name}
        {problem && <span className="block text-label text-outside">{problem}</span>}
      </td>
      <td>
        <ProjectLinks ids={ids} projects={projects} />
      </td>
      <td className="text-soft">{encoding ?? "not read yet"}</td>
      <FigureCells figures={figures} />
    </tr>
  );
}

const statusOf = ({ pass }: FoundMaster): ComplianceStatus => (pass === null ? "unknown" : pass ? "pass" : "fail");

function MasterRow({ master, projects }: { master: FoundMaster; projects: Props["projects"] }) {
  const { title, project_id: project, spec, container, figures, state } = master;
  return (
    <tr className={ROW}>
      <td className="py-1.5 pl-4 [overflow-wrap:anywhere]">
        <span className="flex items-center gap-2">
          <ComplianceMark status={statusOf(master)} /> {title}
        </span>
      </td>
      <td>
        <ProjectLinks ids={[project]} projects={projects} />
      </td>
      <td className="text-soft">
        {spec ?? "none"}, {container.toUpperCase()}
        {state !== "done" && `, ${state}`}
      </td>
      <FigureCells figures={figures} />
    </tr>
  );
}
