/** Structurally an AbortSignal, which the core does not know. */
export interface Cancellation {
  readonly aborted: boolean;
}

export class Cancelled extends Error {
  override name = "Cancelled";
  constructor() {
    super("Cancelled.");
  }
}
