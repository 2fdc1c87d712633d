import { requestBackup as endpoint } from "@core/api/operations";
import { requestBackup } from "@server/operations/scheduled-backups";
import { inStudio } from "@server/people/access";
import { route } from "../../respond";

export const POST = route(
  endpoint,
  inStudio("owner", "manage"),
  ({ body }) => requestBackup(body.folder),
  "asked for a backup",
);
