import { cancelMaster } from "@server/masters";
import { route, uuidParam } from "../../respond";

export const DELETE = route<{ master: string }>(async (_request, params) =>
  cancelMaster(uuidParam.parse(params.master)),
);
