import * as z from "zod";
import { drainWorker, removeWorker } from "@server/queue/workers";
import { inStudio } from "@server/people/access";
import { body, route } from "../../../respond";

const nameParam = z.string().min(1).max(300);
const change = z.strictObject({ drained: z.boolean() });

/** Has a worker take no more jobs, or take them again. */
export const PATCH = route<{ worker: string }>(
  inStudio("owner", "manage"),
  async (request, params) => {
    const { drained } = await body(request, change);
    await drainWorker(nameParam.parse(params.worker), drained);
  },
  "drained a worker, or took it up again",
);

/** Ends a worker once its jobs are done; takes one that is gone off the list. */
export const DELETE = route<{ worker: string }>(
  inStudio("owner", "manage"),
  async (_request, params) => removeWorker(nameParam.parse(params.worker)),
  "removed a worker",
);
