/** Reviews as those who send masters out see them: made, listed, withdrawn; remarks answered; what stands approved. */
import { randomBytes } from "node:crypto";
import { hashPassword } from "better-auth/crypto";
import type { Approval, Heard, ReviewView } from "@core/review/views";
import type { ReportDrawings } from "@core/report/drawings";
import { formatWords } from "@core/delivery/recipe";
import type { Master } from "@core/project/views";
import { row, rows, transaction } from "../db/database";
import { publish } from "../db/notifications";
import { audit } from "../people/audit";
import { hashOfSecret, nameOf, type Principal } from "../people/principal";
import { notFound, Problem } from "../problem";
import { masterFileName, masterOf } from "../rendering/masters";
import { requestCopy } from "./copies";
import { factsOfReview } from "./review-facts";

export interface NewReview {
  title: string;
  message: string;
  masters: readonly string[];
  days: number;
  password: string | null;
  downloads: boolean;
  blind: boolean;
}

/** A master as it is sent out. @throws Problem where there is no file that could be heard */
async function sentOut(project: string, id: string) {
  const master = await masterOf(id);
  if (master.project_id !== project) throw notFound("master");
  const { title } = master.inputs.tags;
  if (master.state !== "done" || !master.file_hash || !master.result)
    throw new Problem(409, "Not rendered", `“${title}” is not finished yet: render it first.`);
  const { name, mediaType } = await masterFileName(master);
  const drawn = await row<{ drawings: ReportDrawings | null }>("select drawings from master where id = $1", [id]);
  return {
    master,
    title,
    label: labelOf(master),
    name,
    mediaType,
    seconds: master.result.figures.durationSeconds,
    lufs: master.result.figures.integratedLufs,
    layout: master.result.figures.layout,
    outline: drawn?.drawings ? loudnessOutline(drawn.drawings) : null,
  };
}

/** How loud it is from place to place, 0…1: drawn until its samples were looked at. */
const loudnessOutline = ({ momentaryLufs }: ReportDrawings): number[] =>
  momentaryLufs.map((lufs) => (lufs === null ? 0 : Math.min(1, Math.round(1000 * 10 ** (lufs / 20)) / 1000)));

/** What tells a file from others of the same title: what it is for, in what, and when it was made. */
function labelOf({ inputs, finished_at: finished }: Master): string {
  const { spec, format } = inputs.recipe;
  const made = finished ? `, ${finished.slice(0, 16).replace("T", " ")} UTC` : "";
  return `${spec?.name ?? "master"} · ${formatWords(format)}${made}`;
}

/**
 * Sends masters out by a link.
 * @returns the secret of the link, told this once
 * @throws Problem where one of them is not finished
 */
export async function createReview(
  by: Principal,
  project: string,
  given: NewReview,
): Promise<{ id: string; secret: string }> {
  const files: Awaited<ReturnType<typeof sentOut>>[] = [];
  for (const id of new Set(given.masters)) files.push(await sentOut(project, id));
  const secret = randomBytes(32).toString("base64url");
  const password = given.password ? await hashPassword(given.password) : null;
  const id = await transaction(async (client) => {
    const made = await row<{ id: string }>(
      `insert into review (project_id, title, message, secret_hash, password_hash, downloads, blind, created_by, expires_at)
       values ($1, $2, $3, $4, $5, $6, $7, $8, now() + make_interval(days => $9)) returning id`,
      [
        ...[project, given.title, given.message, hashOfSecret(secret), password, given.downloads, given.blind],
        ...[nameOf(by), given.days],
      ],
      client,
    );
    for (const [position, { master, title, label, name, mediaType, seconds, lufs, layout, outline }] of files.entries())
      await client.query(
        `insert into review_file (review_id, position, item_id, deliverable_id, title, label, file_name, media_type,
           file_hash, seconds, integrated_lufs, outline, layout) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
        [
          ...[made!.id, position, master.item_id, master.deliverable_id, title, label, name, mediaType],
          ...[master.file_hash, seconds, Number.isFinite(lufs) ? lufs : null, JSON.stringify(outline), layout],
        ],
      );
    await publish({ topic: "review", project }, client);
    return made!.id;
  });
  for (const [position, { seconds }] of files.entries()) await requestCopy(id, position, project, seconds);
  return { id, secret };
}

type Row = Omit<ReviewView, "files" | "remarks" | "verdicts" | "guests" | "heard">;

/** Reviews of a project, the latest first. */
export async function reviewsOf(project: string): Promise<ReviewView[]> {
  const found = await rows<Row>(
    `select id, title, message, downloads, blind, created_by, created_at, expires_at, withdrawn_at,
       password_hash is not null as has_password
     from review where project_id = $1 order by created_at desc`,
    [project],
  );
  return Promise.all(
    found.map(async (review) => ({
      ...review,
      ...(await factsOfReview(review.id, null)),
      guests: (
        await rows<{ name: string }>("select distinct name from review_guest where review_id = $1 order by name", [
          review.id,
        ])
      ).map(({ name }) => name),
      heard: await rows<Heard>(
        `select position, name, ranges, plays, heard_at from review_heard h join review_guest guest on guest.id = guest_id
         where h.review_id = $1 order by position, heard_at desc`,
        [review.id],
      ),
    })),
  );
}

/** Closes a link: whoever has it open hears and says nothing more. What was said stays. */
export async function withdrawReview(project: string, id: string): Promise<void> {
  const gone = await row(
    "update review set withdrawn_at = now() where id = $1 and project_id = $2 and withdrawn_at is null returning 1",
    [id, project],
  );
  if (!gone) throw notFound("open review");
  await publish({ topic: "review", project });
}

export interface RemarkChange {
  answer?: string | undefined;
  resolved?: boolean | undefined;
}

/** Answers a remark, resolves it, or opens it again. */
export async function changeRemark(
  by: Principal,
  project: string,
  id: string,
  { answer, resolved }: RemarkChange,
): Promise<void> {
  const changed = await row<{ words: string }>(
    `update remark set
       answer = coalesce($3, answer), answered_by = case when $3::text is null then answered_by else $4 end,
       resolved_at = case when $5::boolean is null then resolved_at when $5 then now() end
     from review where remark.id = $1 and review.id = review_id and project_id = $2 returning words`,
    [id, project, answer ?? null, nameOf(by), resolved ?? null],
  );
  if (!changed) throw notFound("remark");
  await audit(by, {
    action: answer === undefined ? "resolved a remark" : "answered a remark",
    project,
    subject: changed.words,
  });
  await publish({ topic: "review", project });
}

/** The latest decision of all reviews about each item and deliverable. */
export const approvalsOf = (project: string): Promise<Approval[]> =>
  rows<Approval>(
    `select distinct on (f.item_id, f.deliverable_id) f.item_id, f.deliverable_id, guest.name, v.approved, v.words,
       v.file_hash, v.created_at
     from review_verdict v join review_guest guest on guest.id = v.guest_id join review on review.id = v.review_id
       join review_file f on f.review_id = v.review_id and f.position = v.position
     where review.project_id = $1 order by f.item_id, f.deliverable_id, v.created_at desc`,
    [project],
  );

/** The latest decision about exactly these files, by hash. */
export async function decisionsAbout(
  masters: readonly Pick<Master, "project_id" | "file_hash">[],
): Promise<Map<string, Approval>> {
  const found = await rows<Approval>(
    `select distinct on (v.file_hash) f.item_id, f.deliverable_id, guest.name, v.approved, v.words, v.file_hash, v.created_at
     from review_verdict v join review_guest guest on guest.id = v.guest_id join review on review.id = v.review_id
       join review_file f on f.review_id = v.review_id and f.position = v.position
     where v.file_hash = any($1) and review.project_id = any($2) order by v.file_hash, v.created_at desc`,
    [masters.map(({ file_hash: hash }) => hash), masters.map(({ project_id: project }) => project)],
  );
  return new Map(found.map((one) => [one.file_hash, one]));
}
