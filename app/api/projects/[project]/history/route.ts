import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { historyOf, nameState } from "@server/projects";
import { body, route, uuidParam } from "../../../respond";

export const GET = route<{ project: string }>(async (_request, params) => historyOf(uuidParam.parse(params.project)));

const naming = z.strictObject({ state: z.number().int(), name: nameSchema.nullable() });

export const PATCH = route<{ project: string }>(async (request, params) => {
  const { state, name } = await body(request, naming);
  await nameState(uuidParam.parse(params.project), state, name);
});
