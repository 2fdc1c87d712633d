/** Requests with a key of whoever sends them: done once, and answered again as often as they are sent within a day. */
import { row, rows } from "../db/database";
import { Problem } from "../problem";

export interface KeptAnswer {
  status: number;
  answer: string;
}

const conflict = (status: number, detail: string, headers: Record<string, string> = {}) =>
  new Problem(status, "Idempotency key in use", detail, {}, headers);

/** A request that is not finished after so long is taken as cut off with the server, and may be sent again. */
const CUT_OFF = "interval '10 minutes'";

/**
 * @param owner of the key @param digest of the request: another one with the same key is refused
 * @param work what is done where the key is new; where it fails, nothing is kept
 * @throws Problem 409 while the first is worked on, 422 where the key is that of another request
 */
export async function once(
  owner: string,
  key: string,
  digest: string,
  work: () => Promise<KeptAnswer>,
): Promise<KeptAnswer & { isRepeated: boolean }> {
  await rows(
    `delete from idempotency_record where created_at < now() - interval '1 day'
       or (status is null and created_at < now() - ${CUT_OFF})`,
  );
  const isNew = await row(
    "insert into idempotency_record (owner, key, digest) values ($1, $2, $3) on conflict do nothing returning 1",
    [owner, key, digest],
  );
  if (!isNew) return { ...(await kept(owner, key, digest)), isRepeated: true };
  try {
    const made = await work();
    await rows("update idempotency_record set status = $3, answer = $4 where owner = $1 and key = $2", [
      ...[owner, key, made.status, made.answer],
    ]);
    return { ...made, isRepeated: false };
  } catch (error) {
    await rows("delete from idempotency_record where owner = $1 and key = $2", [owner, key]);
    throw error;
  }
}

async function kept(owner: string, key: string, digest: string): Promise<KeptAnswer> {
  const found = await row<KeptAnswer & { status: number | null; digest: string }>(
    "select status, answer, digest from idempotency_record where owner = $1 and key = $2",
    [owner, key],
  );
  if (found && found.digest !== digest)
    throw conflict(422, "This key was sent with another request before: use a new one for each.");
  if (!found?.status) throw conflict(409, "The same request is being worked on. Ask again.", { "Retry-After": "1" });
  return found;
}
