/** Sends a file to a studio by tus: what is interrupted goes on where it was, in this run or a later one. */
import { createReadStream } from "node:fs";
import { mkdir } from "node:fs/promises";
import { homedir } from "node:os";
import { basename, join } from "node:path";
import { FileUrlStorage, Upload } from "tus-js-client";
import { CliProblem } from "../outcome";
import { serverOf, showWait, type RemoteOptions } from "./studio";

const CHUNK_BYTES = 32 * 2 ** 20;
const RETRY_DELAYS_MS = [500, 1000, 3000, 5000, 10_000, 20_000, 30_000, 60_000];

/** Where uploads that are under way are remembered; none where nothing can be written. */
async function storage(): Promise<FileUrlStorage | undefined> {
  const folder = join(process.env.XDG_CACHE_HOME || join(homedir(), ".cache"), "resonum");
  try {
    await mkdir(folder, { recursive: true });
    return new FileUrlStorage(join(folder, "uploads.json"));
  } catch {
    return undefined;
  }
}

interface FileToSend {
  file: string;
  /** SHA-256 of its bytes: what was begun with others is not gone on with. */
  hash: string;
  project: string;
}

/** @param chunkBytes so many at a time @throws CliProblem */
export async function uploadFile(
  { file, hash, project }: FileToSend,
  options: RemoteOptions,
  chunkBytes = CHUNK_BYTES,
): Promise<void> {
  const { server, token } = serverOf(options);
  const urlStorage = await storage();
  await new Promise<void>((resolve, reject) => {
    const upload = new Upload(createReadStream(file), {
      endpoint: `${server}/api/uploads`,
      chunkSize: chunkBytes,
      retryDelays: RETRY_DELAYS_MS,
      metadata: { filename: basename(file), project },
      headers: token ? { Authorization: `Bearer ${token}` } : {},
      ...(urlStorage ? { urlStorage } : {}),
      fingerprint: () => Promise.resolve([server, project, hash].join(" ")),
      removeFingerprintOnSuccess: true,
      onProgress: (sent, bytes) =>
        showWait(`sending ${basename(file)} ${bytes ? Math.round((100 * sent) / bytes) : 0} %`, options),
      onSuccess: () => resolve(),
      onError: (error) => {
        const said = "originalResponse" in error ? error.originalResponse?.getBody()?.trim() : undefined;
        reject(new CliProblem(said || `${file} could not be sent: ${error.message.split("\n")[0]}`));
      },
    });
    // Nothing of it is remembered where the file of before cannot be read.
    const before = upload.findPreviousUploads().catch(() => []);
    void before.then(([last]) => {
      if (last) upload.resumeFromPreviousUpload(last);
      upload.start();
    }, reject);
  });
}
