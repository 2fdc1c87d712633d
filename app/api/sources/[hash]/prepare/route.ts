import { hashSchema } from "@core/project/document";
import { cancelPreparation, prepareAgain } from "@server/projects/sources";
import { route } from "../../../respond";

export const POST = route<{ hash: string }>(async (_request, params) => prepareAgain(hashSchema.parse(params.hash)));

export const DELETE = route<{ hash: string }>(async (_request, params) =>
  cancelPreparation(hashSchema.parse(params.hash)),
);
