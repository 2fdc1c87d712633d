import * as z from "zod";
import { requestBackup } from "@server/operations/scheduled-backups";
import { body, route } from "../../respond";

const wanted = z.strictObject({
  folder: z
    .string()
    .trim()
    .max(1000)
    .startsWith("/", "a folder by its whole path, which begins with “/”, is asked for"),
});

/** Asks for a backup in a folder. */
export const POST = route(async (request) => {
  const { folder } = await body(request, wanted);
  await requestBackup(folder);
});
