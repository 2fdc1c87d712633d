import { copyProject } from "@server/projects/shelves";
import { route, uuidParam } from "../../../respond";

/** Makes a project of another as it is now: without its history and its masters. */
export const POST = route<{ project: string }>(async (_request, params) =>
  copyProject(uuidParam.parse(params.project)),
);
