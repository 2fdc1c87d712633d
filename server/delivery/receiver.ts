/** What takes masters: told of a delivery, it says of each file whether it is accepted. */
import { Cancelled } from "@core/audio/cancellation";
import type { CurrentMaster } from "@core/project/delivery";
import type { Delivery } from "./documents";

/** What a receiver said to one file. */
export interface SubmittedFile {
  name: string;
  accepted: boolean;
  reasons: string[];
}

export interface Receiver {
  id: string;
  name: string;
  help: string;
  /** @throws Error where it cannot be reached */
  take(handing: SubmissionContext): Promise<void>;
}

export interface SubmissionContext {
  /** Of the hand-over. */
  id: string;
  delivery: Delivery;
  signal: AbortSignal;
  /** Names of files that were accepted before an interruption. */
  accepted: ReadonlySet<string>;
  /** To be told of each file. */
  said(file: SubmittedFile): Promise<void>;
}

/** Masters that are still to be sent. @throws Cancelled */
export function* remaining({ delivery, accepted, signal }: SubmissionContext): Generator<CurrentMaster> {
  for (const one of delivery.masters) {
    if (signal.aborted) throw new Cancelled();
    if (!accepted.has(one.name)) yield one;
  }
}
