import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { inStudio } from "@server/people/access";
import { renameSelf } from "@server/people/own-account";
import { visitor } from "@server/people/visitor";
import { body, route } from "../respond";

/** Changes the name that edits and remarks stand under from now on. */
export const PATCH = route(inStudio("guest", null), async (request) =>
  renameSelf(visitor(), (await body(request, z.strictObject({ name: nameSchema }))).name),
);
