"use client";

import { toast } from "sonner";
import { Upload } from "tus-js-client";
import { create } from "zustand";
import { SOUND_EXTENSIONS } from "@core/files/extensions";
import { measureLocally } from "../workers/local-figures";

/** A file on its way to the server. */
export interface FileUpload {
  key: string;
  project: string;
  name: string;
  bytes: number;
  sent: number;
  /** Bytes a second, lately. */
  pace: number;
  state: "sending" | "finishing" | "failed";
  problem: string | null;
}

const CHUNK_BYTES = 32 * 2 ** 20;
const RETRY_DELAYS_MS = [200, 500, 1000, 2000, 3000, 5000, 8000];

export const useUploads = create<{ uploads: FileUpload[] }>(() => ({ uploads: [] }));
const running = new Map<string, Upload>();

const change = (key: string, change: Partial<FileUpload>) =>
  useUploads.setState(({ uploads }) => ({
    uploads: uploads.map((one) => (one.key === key ? { ...one, ...change } : one)),
  }));
const forget = (key: string) => {
  running.delete(key);
  useUploads.setState(({ uploads }) => ({ uploads: uploads.filter((one) => one.key !== key) }));
};

/** Why a file is refused before anything is sent; `null` when it may go. */
export function refusalOf(file: Pick<File, "name" | "size">): string | null {
  const dot = file.name.lastIndexOf(".");
  const extension = dot < 0 ? "" : file.name.slice(dot).toLowerCase();
  if (file.size === 0) return "it is empty";
  if (!SOUND_EXTENSIONS.includes(extension)) return "it is not a sound or video file that can be taken in";
  return null;
}

/** Sends files one after the other, each resumed where an earlier try was interrupted. */
export async function uploadFiles(project: string, files: File[]): Promise<void> {
  const accepted: File[] = [];
  for (const file of files) {
    const refusal = refusalOf(file);
    if (refusal) toast.error(`“${file.name}” was not taken in`, { description: `Because ${refusal}.` });
    else accepted.push(file);
  }
  const queued = accepted.map((file) => ({ file, key: crypto.randomUUID() }));
  useUploads.setState(({ uploads }) => ({
    uploads: [
      ...uploads,
      ...queued.map(({ file, key }): FileUpload => ({
        key,
        project,
        name: file.name,
        bytes: file.size,
        sent: 0,
        pace: 0,
        state: "sending",
        problem: null,
      })),
    ],
  }));
  measureLocally(accepted);
  for (const { file, key } of queued) {
    if (useUploads.getState().uploads.some((one) => one.key === key)) await send(project, file, key);
  }
}

function send(project: string, file: File, key: string): Promise<void> {
  return new Promise((resolve) => {
    let last = { at: performance.now(), sent: 0 };
    const upload = new Upload(file, {
      endpoint: "/api/uploads",
      chunkSize: CHUNK_BYTES,
      retryDelays: RETRY_DELAYS_MS,
      metadata: { filename: file.name, project, key },
      // The same file in the same project goes on where it stopped, also after the page was closed.
      fingerprint: async () => `resonum-${project}-${file.name}-${file.size}-${file.lastModified}`,
      removeFingerprintOnSuccess: true,
      onProgress: (sent) => {
        const now = performance.now();
        if (now - last.at < 300 && sent < file.size) return;
        const pace = ((sent - last.sent) / Math.max(1, now - last.at)) * 1000;
        last = { at: now, sent };
        change(key, { sent, pace, state: sent >= file.size ? "finishing" : "sending" });
      },
      onSuccess: () => {
        forget(key);
        resolve();
      },
      onError: (error) => {
        const said = "originalResponse" in error ? error.originalResponse?.getBody()?.trim() : undefined;
        change(key, {
          state: "failed",
          problem: said || "The connection was lost. What arrived is kept: choose the file again to go on.",
        });
        resolve();
      },
    });
    running.set(key, upload);
    void upload.findPreviousUploads().then((previous) => {
      if (previous[0]) upload.resumeFromPreviousUpload(previous[0]);
      upload.start();
    });
  });
}

/** Stops a file that is on its way and forgets what arrived of it. */
export function cancelUpload(key: string): void {
  const upload = running.get(key);
  forget(key);
  void upload?.abort(true).catch(() => undefined);
}

export const dismissUpload = forget;
