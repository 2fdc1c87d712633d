/** Reviews as whoever has the link sees them: opened by name, heard, remarked upon, approved or sent back. */
import * as z from "zod";
import { randomBytes } from "node:crypto";
import { verifyPassword } from "better-auth/crypto";
import { STUDIO_NAME } from "@core/people/views";
import { mergedRanges, type Range } from "@core/review/ranges";
import type { OpenReviewView, Remark, ReviewPage, ReviewPreview } from "@core/review/views";
import { config } from "../config";
import { row, rows, transaction } from "../db/database";
import { publish } from "../db/notifications";
import { audit } from "../people/audit";
import { limitedTry, tryKeys } from "../people/try-limits";
import type { Access } from "../people/access";
import { hashOfSecret, unknownPrincipal, type Principal } from "../people/principal";
import { notFound, Problem } from "../problem";
import { emitWebhookEvent } from "../webhooks/webhooks";
import { factsOfReview } from "./review-facts";

/** Whoever opened a link. */
export interface Guest {
  id: string;
  name: string;
  review: string;
  project: string;
  address: string | null;
}

const OPEN = "withdrawn_at is null and expires_at > now()";
const closed = () =>
  new Problem(410, "No longer open", "This review was closed or has expired. Ask whoever sent the link for another.");

interface OpenReview {
  id: string;
  project_id: string;
  title: string;
  from: string;
  password_hash: string | null;
  seconds: number;
}

const OPEN_COLUMNS = `id, project_id, title, created_by as "from", password_hash,
  extract(epoch from expires_at - now())::int as seconds`;

async function openReview(secret: string): Promise<OpenReview> {
  const found = await row<OpenReview>(`select ${OPEN_COLUMNS} from review where secret_hash = $1 and ${OPEN}`, [
    hashOfSecret(secret),
  ]);
  if (!found) throw closed();
  return found;
}

/** What a link says before somebody gives their name. */
export async function previewReview(secret: string): Promise<ReviewPreview> {
  const { id, title, from, password_hash: hash } = await openReview(secret);
  return { id, title, from, needsPassword: hash !== null };
}

/** A link that was put where everybody finds it is no link for review any more. */
const MOST_GUESTS = 1000;

const cookieOf = (review: string): string => `resonum_review_${review}`;

/**
 * Opens a review under a name.
 * @returns its id, and the cookie by which the guest is known from then on
 * @throws Problem where the password is wrong, or the link is closed
 */
export async function enterReview(
  { secret, name, password }: { secret: string; name: string; password: string },
  address: string | null,
): Promise<{ id: string; cookie: string }> {
  const review = await openReview(secret);
  const as = unknownPrincipal(address, { id: "", name: `${name} (guest)`, email: "" });
  const { id, project_id: project, password_hash: hash } = review;
  const noted = (action: string) =>
    audit({ ...as, person: null }, { action, project, subject: `${name}: ${review.title}` });
  if (hash !== null) {
    const opened = await limitedTry(
      tryKeys(`review ${id}`, address),
      async () => (await verifyPassword({ hash, password })) || undefined,
      () => noted("was locked out of a review"),
    );
    if (!opened) throw new Problem(401, "Wrong password", "The password is another one: it came with the link.");
  }
  await noted("opened a review");
  return admit(review, name, address);
}

/** Reviews that are open to somebody by their part in the project, without a link. */
export const reviewsFor = (projects: readonly string[] | null): Promise<OpenReviewView[]> =>
  rows<OpenReviewView>(
    `select id, title, created_by as "from", expires_at from review
     where ${OPEN} and ($1::uuid[] is null or project_id = any($1)) order by created_at desc limit 200`,
    [projects],
  );

/** Opens a review for a person who has a part in its project. @throws Problem where it is closed */
export async function enterAsMember(
  review: string,
  { person, address }: Principal,
): Promise<{ id: string; cookie: string }> {
  const found = await row<OpenReview>(`select ${OPEN_COLUMNS} from review where id = $1 and ${OPEN}`, [review]);
  if (!found) throw closed();
  return admit(found, person?.name ?? STUDIO_NAME, address);
}

/** A new guest, known from then on by a cookie. */
async function admit(
  review: OpenReview,
  name: string,
  address: string | null,
): Promise<{ id: string; cookie: string }> {
  const { id, project_id: project, seconds } = review;
  const token = randomBytes(32).toString("base64url");
  const entered = await row(
    `insert into review_guest (review_id, name, token_hash, address) select $1, $2, $3, $4
     where (select count(*) from review_guest where review_id = $1) < ${MOST_GUESTS} returning 1`,
    [id, name, hashOfSecret(token), address],
  );
  if (!entered) throw new Problem(409, "Too many guests", "The link was opened too often. Ask for another one.");
  await publish({ topic: "review", project });
  const secure = config.tls ? "; Secure" : "";
  const cookie = `${cookieOf(id)}=${token}; Path=/api/review/${id}; HttpOnly; SameSite=Lax; Max-Age=${seconds}${secure}`;
  return { id, cookie };
}

const notOpened = () => new Problem(403, "Not opened", "Open the review by its link first.");

/** Who asks for a review. @throws Problem where nobody is known, or it is closed */
export async function guestOf(request: Request, review: string): Promise<Guest> {
  const name = cookieOf(review);
  const token = (request.headers.get("cookie") ?? "")
    .split(/;\s*/)
    .find((part) => part.startsWith(`${name}=`))
    ?.slice(name.length + 1);
  const found = await row<{ id: string; name: string; project_id: string; open: boolean }>(
    `select guest.id, name, project_id, ${OPEN} as open from review_guest guest join review on review.id = review_id
     where token_hash = $1 and review_id = $2`,
    [hashOfSecret(token ?? ""), review],
  );
  if (!found) throw notOpened();
  if (!found.open) throw closed();
  const { id, project_id: project } = found;
  return { id, name: found.name, review, project, address: request.headers.get("x-resonum-address") };
}

/** Whoever has opened the review of the address by its link: they are known by a cookie of that review. */
export const byReviewLink: Access = {
  words: "guest of the review",
  scope: "read",
  async check(_principal, { review }, request) {
    if (!request) throw notOpened();
    return (await guestOf(request, z.uuid().parse(review))).project;
  },
};

/** All that a guest sees. */
export async function pageOfReview({ id, review, name }: Guest): Promise<ReviewPage> {
  const about = (await row<
    Pick<ReviewPage, "id" | "title" | "message" | "from" | "downloads" | "blind" | "expires_at">
  >(`select id, title, message, created_by as "from", downloads, blind, expires_at from review where id = $1`, [
    review,
  ]))!;
  return { ...about, name, ...(await factsOfReview(review, id)) };
}

export interface SentFile {
  file_hash: string;
  copy_hash: string | null;
  media_type: string;
  file_name: string;
  seconds: number;
  downloads: boolean;
}

/** @throws Problem where the review has no such file */
export async function fileOfReview(review: string, position: number): Promise<SentFile> {
  const found = await row<SentFile>(
    `select file_hash, copy_hash, media_type, file_name, seconds, downloads
     from review_file f join review on review.id = review_id where review_id = $1 and position = $2`,
    [review, position],
  );
  if (!found) throw notFound("file in this review");
  return found;
}

/** Notes it for the team, under the name that the guest gave. */
const told = async ({ name, project, address }: Guest, action: string, subject: string): Promise<void> => {
  await audit(unknownPrincipal(address), { action, project, subject: `${name}: ${subject}` });
  await publish({ topic: "review", project });
};

const MOST_REMARKS = 500;

/** @throws Problem where the times lie outside of the file */
export async function addRemark(
  guest: Guest,
  { position, at, end, words }: { position: number; at: number; end: number | null; words: string },
): Promise<void> {
  const { seconds } = await fileOfReview(guest.review, position);
  if (at > seconds || (end !== null && (end <= at || end > seconds + 1)))
    throw new Problem(
      422,
      "Outside of the file",
      `The remark lies outside of the file, which lasts ${seconds.toFixed(1)} s.`,
    );
  const added = await row(
    `insert into remark (review_id, position, guest_id, at_seconds, end_seconds, words)
     select $1, $2, $3, $4, $5, $6 where (select count(*) from remark where review_id = $1) < ${MOST_REMARKS} returning 1`,
    [guest.review, position, guest.id, at, end, words],
  );
  if (!added) throw new Problem(409, "Too many remarks", `A review holds ${MOST_REMARKS} remarks.`);
  await told(guest, "remarked", words);
}

/** Takes an own remark back that nobody has answered. */
export async function withdrawRemark(guest: Guest, id: string): Promise<void> {
  const gone = await row<Pick<Remark, "words">>(
    "delete from remark where id = $1 and guest_id = $2 and answer is null returning words",
    [id, guest.id],
  );
  if (!gone) throw new Problem(409, "Stays", "Only an own remark that was not answered can be taken back.");
  await told(guest, "took a remark back", gone.words);
}

/** Approves a file or sends it back: these bytes, which are told by their hash. @throws Problem where they are others */
export async function decide(
  guest: Guest,
  { position, hash, approved, words }: { position: number; hash: string; approved: boolean; words: string },
): Promise<void> {
  const file = await fileOfReview(guest.review, position);
  if (file.file_hash !== hash)
    throw new Problem(409, "Another file", "This is not the file that was heard. Open the review again.");
  await transaction(async (client) => {
    await client.query(
      "insert into review_verdict (review_id, position, guest_id, file_hash, approved, words) values ($1, $2, $3, $4, $5, $6)",
      [guest.review, position, guest.id, hash, approved, words],
    );
    const about = { review: guest.review, file: file.file_name, sha256: hash, approved, by: guest.name, words };
    await emitWebhookEvent("master.reviewed", guest.project, about, client);
  });
  await told(guest, approved ? "approved a master" : "sent a master back", `${file.file_name} ${hash.slice(0, 12)}`);
}

/** A player pauses for less between what it tells. */
const GAP_SECONDS = 0.5;

/** Notes what was heard of a file. @param isNew whether the guest began to play it */
export async function noteHeard(
  guest: Guest,
  { position, ranges, isNew }: { position: number; ranges: readonly Range[]; isNew: boolean },
): Promise<void> {
  await fileOfReview(guest.review, position);
  await transaction(async (client) => {
    await client.query("select pg_advisory_xact_lock(hashtext($1))", [`${guest.id} ${position}`]);
    const before = await row<{ ranges: Range[] }>(
      "select ranges from review_heard where review_id = $1 and position = $2 and guest_id = $3",
      [guest.review, position, guest.id],
      client,
    );
    const all = mergedRanges([...(before?.ranges ?? []), ...ranges], GAP_SECONDS);
    await client.query(
      `insert into review_heard (review_id, position, guest_id, ranges, plays) values ($1, $2, $3, $4, $5)
       on conflict (review_id, position, guest_id) do update
       set ranges = $4, plays = review_heard.plays + $5, heard_at = now()`,
      [guest.review, position, guest.id, JSON.stringify(all), isNew ? 1 : 0],
    );
  });
  if (isNew) await publish({ topic: "review", project: guest.project });
}
