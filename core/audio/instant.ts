import * as z from "zod";

/** A moment in time, ISO 8601, as JSON carries it. */
export const instantSchema = z.string().meta({ format: "date-time" });
export type Instant = z.infer<typeof instantSchema>;
