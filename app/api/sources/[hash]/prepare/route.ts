import { hashSchema } from "@core/project/document";
import { cancelPreparing, prepareAgain } from "@server/projects/sources";
import { route } from "../../../respond";

export const POST = route<{ hash: string }>(async (_request, params) => prepareAgain(hashSchema.parse(params.hash)));

export const DELETE = route<{ hash: string }>(async (_request, params) =>
  cancelPreparing(hashSchema.parse(params.hash)),
);
