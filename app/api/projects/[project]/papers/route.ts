import { deliveryOf, papersOf } from "@server/delivery/documents";
import { route, uuidParam } from "../../../respond";

export const GET = route<{ project: string }>(async (_request, params) =>
  papersOf(await deliveryOf(uuidParam.parse(params.project))).map(({ name, mediaType }) => ({ name, mediaType })),
);
