import * as z from "zod";
import { requestBackup } from "@server/operations/scheduled-backups";
import { inStudio } from "@server/people/access";
import { body, route } from "../../respond";

const wanted = z.strictObject({
  folder: z
    .string()
    .trim()
    .max(1000)
    .startsWith("/", "a folder by its whole path, which begins with “/”, is asked for"),
});

/** Asks for a backup in a folder. */
export const POST = route(
  inStudio("owner", "manage"),
  async (request) => {
    const { folder } = await body(request, wanted);
    await requestBackup(folder);
  },
  "asked for a backup",
);
