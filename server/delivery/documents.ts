/** Papers of a delivery: reports, tables, lists and the manifest, made of the masters as they are now. */
import type { Tags } from "@core/files/tags";
import { findingsOf } from "@core/findings";
import { currentMasters, type CurrentMaster } from "@core/project/delivery";
import { PROGRAMME_ID, specOf, type ProjectDocument } from "@core/project/document";
import { tagsOf } from "@core/project/master-tags";
import { itemInMix } from "@core/project/mixes";
import { programmeTimeline, subjectOf } from "@core/project/subjects";
import { manifestOf } from "@core/project/manifest";
import type { KnownRecordings } from "@core/project/known-recordings";
import { fileName } from "@core/project/file-name";
import { knownRecordings, type Master } from "@core/project/views";
import { csvRows } from "@core/report/csv";
import { csvText } from "@core/report/csv-text";
import type { ReportEntry } from "@core/report/entry";
import type { ReportDrawings } from "@core/report/drawings";
import { describeReport, type ReportDescription, type ReportOptions } from "@core/report/description";
import { dayWords } from "@core/project/report-head";
import { htmlReport } from "@core/report/html";
import {
  chaptersJson,
  chaptersText,
  cueSheet,
  equaliserCsv,
  markersCsv,
  MOST_CUE_TRACKS,
  type CueTrack,
} from "@core/report/lists";
import { programmeCueSheet, programmeSheet, programmeTitles, titleListCsv } from "@core/report/programme-lists";
import { responseOf, workDone } from "@core/report/work-done";
import { formatWords } from "@core/delivery/recipe";
import type { DeliverySpec } from "@core/delivery/spec";
import { check } from "@core/delivery/compliance";
import type { Approval } from "@core/review/views";
import { config } from "../config";
import { rows } from "../db/database";
import { mastersOf } from "../rendering/masters";
import { ffmpegVersion } from "../media/ffmpeg";
import { imageFormatOf } from "../media/image-signature";
import { withBlob } from "../storage/blobs";
import { notFound } from "../problem";
import { openProject } from "../projects/projects";
import { decisionsAbout } from "../review/reviews";
import { pdfReport } from "../reports/report-pdf";
import { findSources } from "../projects/sources";

export interface DeliveryDocument {
  name: string;
  mediaType: string;
  make(): Promise<string | Uint8Array>;
}

export interface Delivery {
  project: string;
  document: ProjectDocument;
  masters: CurrentMaster[];
  known: KnownRecordings;
}

/** A project with its masters that are finished and of the settings as they are now. */
export const deliveryOf = async (project: string): Promise<Delivery> =>
  deliveryOfDocument(project, (await openProject(project)).document);

/** The same of an earlier state's document. */
export async function deliveryOfDocument(project: string, document: ProjectDocument): Promise<Delivery> {
  const sources = await findSources(document.sources.map(({ hash }) => hash));
  const known = knownRecordings(sources);
  return { project, document, known, masters: currentMasters(document, await mastersOf(project), known) };
}

function factsOf({ master, deliverable }: CurrentMaster, decision: Approval | undefined): [string, string][] {
  const { inputs, file_hash: hash, sound_hash: soundHash } = master;
  return [
    ["File", formatWords(deliverable.format)],
    inputs.programme
      ? [
          "Recordings",
          `${new Set(inputs.programme.items.map(({ render }) => render.source)).size}, listed in the manifest`,
        ]
      : ["SHA-256 of the recording", inputs.source],
    ["SHA-256 of the file", hash!],
    ...(soundHash ? [["SHA-256 of the sound before encoding", soundHash] as [string, string]] : []),
    ["Core version", inputs.coreVersion],
    ...(decision ? [decisionFact(decision)] : []),
  ];
}

/** Who approved exactly this file, or sent it back. */
const decisionFact = ({ approved, name, created_at: at, words }: Approval): [string, string] => [
  approved ? "Approved" : "Sent back",
  `by ${name}, ${dayWords(new Date(at))}: this file, by its SHA-256${words ? `; “${words}”` : ""}`,
];

/** What a report tells of masters. */
export async function entriesOf(masters: readonly CurrentMaster[]): Promise<ReportEntry[]> {
  const drawn = await rows<{ id: string; drawings: ReportDrawings }>(
    "select id, drawings from master where id = any($1)",
    [masters.map(({ master }) => master.id)],
  );
  const decisions = await decisionsAbout(masters.map(({ master }) => master));
  const drawings = new Map(drawn.map((row) => [row.id, row.drawings]));
  return masters.map((one) => {
    const { inputs } = one.master;
    const result = one.master.result!;
    const { figures, verdict, warnings } = result;
    const { spec, chain } = inputs.recipe;
    return {
      name: one.name,
      problem: null,
      figures,
      drawings: drawings.get(one.master.id) ?? null,
      verdict: verdict ?? (spec ? check(spec, figures) : null),
      findings: findingsOf(figures, spec ?? null),
      warnings,
      work: workDone(inputs.recipe, inputs.clips, result),
      response: responseOf(chain),
      facts: factsOf(one, decisions.get(one.master.file_hash!)),
    };
  });
}

const byDeliverable = (masters: readonly CurrentMaster[]): Map<string, CurrentMaster[]> => {
  const groups = new Map<string, CurrentMaster[]>();
  for (const one of masters) groups.set(one.deliverable.id, [...(groups.get(one.deliverable.id) ?? []), one]);
  return groups;
};

export type ReportKind = "html" | "pdf";

const REPORT_TYPES: Readonly<Record<ReportKind, string>> = { html: "text/html", pdf: "application/pdf" };

/** Whose report it is, and of when: the day on which the last of the masters was made. */
function reportOptions(
  { about }: ProjectDocument,
  title: string,
  masters: readonly Pick<CurrentMaster, "master">[],
): ReportOptions {
  const finished = masters.flatMap(({ master }) =>
    master.finished_at ? [new Date(master.finished_at).getTime()] : [],
  );
  return {
    title,
    head: about.report,
    date: dayWords(new Date(finished.length > 0 ? Math.max(...finished) : Date.now())),
  };
}

/** A report in HTML or as PDF, with the logo of its head. */
async function reportAs(kind: ReportKind, report: ReportDescription): Promise<string | Uint8Array> {
  const { logo: hash } = report.head;
  // A picture that is lost, or is none, stops no report.
  const picture = hash ? await withBlob(hash, async (bytes) => bytes.read(0, bytes.size)).catch(() => null) : null;
  const type = picture && imageFormatOf(picture);
  const logo = type === "image/png" || type === "image/jpeg" ? picture : null;
  if (kind === "pdf") return pdfReport(report, config.packagesFolder, logo);
  return htmlReport(report, logo && `data:${type};base64,${Buffer.from(logo).toString("base64")}`);
}

const CUE_KINDS: Readonly<Record<string, CueTrack["kind"]>> = {
  wav: "WAVE",
  rf64: "WAVE",
  flac: "WAVE",
  aiff: "AIFF",
  mp3: "MP3",
};

const trackOf = ({ name, deliverable, master }: CurrentMaster): CueTrack => ({
  file: name,
  kind: CUE_KINDS[deliverable.format.container] ?? "WAVE",
  tags: master.inputs.tags,
});

/** All documents that can be made of a delivery now. */
export function documentsOf(delivery: Delivery): DeliveryDocument[] {
  const { document, masters, known } = delivery;
  const made: DeliveryDocument[] = [];
  const add = (name: string, mediaType: string, make: DeliveryDocument["make"]) => made.push({ name, mediaType, make });
  for (const [id, group] of byDeliverable(masters)) {
    const spec: DeliverySpec = specOf(document, document.deliverables.find((one) => one.id === id)!.spec);
    const title = `${document.about.title || document.name}: ${spec.name}`;
    const called = fileName(`Check report - ${spec.name}`) + (repeated(document, id) ? ` ${id}` : "");
    for (const kind of ["html", "pdf"] as const)
      add(`${called}.${kind}`, REPORT_TYPES[kind], async () =>
        reportAs(kind, describeReport(await entriesOf(group), spec, reportOptions(document, title, group))),
      );
    const files = group.filter(({ item }) => item.id !== PROGRAMME_ID);
    const [first] = files;
    const named = (what: string) => fileName(`${what} - ${spec.name}`) + (repeated(document, id) ? ` ${id}` : "");
    if (first && CUE_KINDS[first.deliverable.format.container] && files.length > 1)
      add(`${named(group.length > files.length ? "Cue sheet of files" : "Cue sheet")}.cue`, "text/plain", async () =>
        cueSheet(first.master.inputs.tags, files.map(trackOf)),
      );
    const whole = group.find(({ item }) => item.id === PROGRAMME_ID);
    if (whole) programmeDocuments(delivery, whole, files, named, add);
  }
  if (masters.length > 0) {
    add("Masters.csv", "text/csv", async () => csvText(csvRows(await entriesOf(masters))));
    add("Masters.json", "application/json", async () =>
      JSON.stringify(
        (await entriesOf(masters)).map(({ drawings: _, ...entry }) => entry),
        null,
        2,
      ),
    );
    add("Manifest.json", "application/json", async () => {
      const decisions = await decisionsAbout(masters.map(({ master }) => master));
      const manifest = manifestOf(document.name, await ffmpegVersion(), document.sources, masters, decisions);
      return `${JSON.stringify(manifest, null, 2)}\n`;
    });
  }
  if (document.items.length > 0)
    add("Project.json", "application/json", async () => `${JSON.stringify(document, null, 2)}\n`);
  if (document.items.some(({ markers }) => markers.length > 0))
    add("Markers.csv", "text/csv", async () => markersCsv(document, known));
  for (const { item, master } of firstOfEach(masters)) {
    const { tags }: { tags: Tags } = master.inputs;
    if (tags.chapters.length === 0) continue;
    add(`${fileName(`Chapters - ${item.name}`)}.txt`, "text/plain", async () => chaptersText(tags));
    add(`${fileName(`Chapters - ${item.name}`)}.json`, "application/json+chapters", async () => chaptersJson(tags));
  }
  if (document.items.some(({ chain }) => chain.some(({ type, bypass }) => type === "equaliser" && !bypass)))
    add("Equaliser curves.csv", "text/csv", async () => equaliserCsv(document));
  return made;
}

/** What goes with the whole in one file: its cue sheet, its titles with their times, what was done. */
function programmeDocuments(
  { document, known }: Delivery,
  whole: CurrentMaster,
  files: readonly CurrentMaster[],
  named: (what: string) => string,
  add: (name: string, mediaType: string, make: DeliveryDocument["make"]) => void,
): void {
  const timeline = programmeTimeline(document, known, whole.deliverable.mix);
  if (!timeline) return;
  const { sampleRate } = timeline;
  const { tags } = whole.master.inputs;
  const titles = programmeTitles(timeline, document.items, (stored) => {
    const item = itemInMix(stored, whole.deliverable.mix, known);
    return tagsOf(document, item, known(item.source)!);
  });
  const measured = new Map(files.map(({ item, master }) => [item.id, master.result!.figures]));
  if (CUE_KINDS[whole.deliverable.format.container] && titles.length <= MOST_CUE_TRACKS)
    add(`${named("Cue sheet")}.cue`, "text/plain", async () =>
      programmeCueSheet(tags, trackOf(whole), titles, sampleRate),
    );
  add(`${named("Title list")}.csv`, "text/csv", async () => titleListCsv(titles, sampleRate));
  add(`${named("Programme sheet")}.txt`, "text/plain", async () =>
    programmeSheet(`${tags.title}: ${whole.name}`, titles, timeline, (item) => measured.get(item) ?? null),
  );
}

/** Whether another deliverable has the same spec. */
const repeated = ({ deliverables }: ProjectDocument, id: string): boolean => {
  const spec = deliverables.find((one) => one.id === id)?.spec;
  return deliverables.filter((one) => one.spec === spec).length > 1;
};

function firstOfEach(masters: readonly CurrentMaster[]): CurrentMaster[] {
  const first = new Map<string, CurrentMaster>();
  for (const one of masters) if (!first.has(one.item.id)) first.set(one.item.id, one);
  return [...first.values()];
}

/** @throws Problem where there is no such paper now */
export function documentNamed(delivery: Delivery, name: string): DeliveryDocument {
  const paper = documentsOf(delivery).find((one) => one.name === name);
  if (!paper) throw notFound("paper");
  return paper;
}

/** The report of one master. */
export async function reportOfMaster(master: Master, kind: ReportKind): Promise<string | Uint8Array> {
  const { document } = await openProject(master.project_id);
  const item = subjectOf(document, master.item_id);
  const deliverable = document.deliverables.find(({ id }) => id === master.deliverable_id);
  if (!master.result || !item || !deliverable) throw notFound("finished master");
  const one = { item, deliverable, master, name: item.name };
  const spec = master.inputs.recipe.spec ?? null;
  const options = reportOptions(document, `${item.name}: ${spec?.name ?? "master"}`, [one]);
  return reportAs(kind, describeReport(await entriesOf([one]), spec, { ...options, isNamed: true }));
}
