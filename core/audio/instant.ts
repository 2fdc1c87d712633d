/** A moment in time, ISO 8601, as JSON carries it. */
export type Instant = string;
