/** Part of a list, and how the part after it is asked for. */
export class Page<Entry> {
  constructor(
    readonly entries: readonly Entry[],
    /** Query of the next page; `null` where this is the last. */
    readonly next: Record<string, string | number> | null,
  ) {}
}
