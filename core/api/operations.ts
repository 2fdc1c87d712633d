/** The studio itself: whether it is well, its workers and its backups, and what happens in it. */
import * as z from "zod";
import { healthCheckSchema, operationsViewSchema } from "../project/operations-view";
import { content, endpoint } from "./endpoint";

export const getStatus = endpoint(
  "GET",
  "/api/status",
  "Whether the server and its database answer, and how much work waits.",
  {
    answer: z.object({
      ok: z.boolean(),
      preparing: z.number().int().optional(),
      rendering: z.number().int().optional(),
      memoryBytes: z.number().optional(),
    }),
  },
);

export const getOpenApi = endpoint("GET", "/api/openapi.json", "This description of the API, OpenAPI 3.1.", {
  answer: z.record(z.string(), z.unknown()),
});

export const listenToEvents = endpoint(
  "GET",
  "/api/events",
  "What happens to what whoever asks may see, as server-sent events, until they go away or are signed out.",
  { answer: content("text/event-stream") },
);

export const getOperations = endpoint("GET", "/api/operations", "Queues, workers and backups.", {
  answer: operationsViewSchema,
});

export const examine = endpoint("GET", "/api/operations/health", "What the studio stands on, looked at one by one.", {
  answer: z.array(healthCheckSchema),
});

export const requestBackup = endpoint("POST", "/api/operations/backups", "Asks for a backup.", {
  body: z.strictObject({
    folder: z
      .string()
      .trim()
      .max(1000)
      .startsWith("/", "a folder by its whole path, which begins with “/”, is asked for"),
  }),
});

export const drainWorker = endpoint(
  "PATCH",
  "/api/operations/workers/{worker}",
  "Lets a worker take no more jobs, or take them again.",
  { body: z.strictObject({ drained: z.boolean() }) },
);

export const removeWorker = endpoint(
  "DELETE",
  "/api/operations/workers/{worker}",
  "Ends a worker once nothing is in its hands, or forgets one that is gone.",
);
