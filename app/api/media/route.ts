import * as z from "zod";
import { parseMediaQuery } from "@core/project/media-query";
import { searchMedia } from "@server/projects/media-search";
import { inStudio, openableProjects } from "@server/people/access";
import { visitor } from "@server/people/visitor";
import { route } from "../respond";

const typed = z.string().max(300, "at most 300 signs are read");

/** Recordings and masters of all projects; `?q=` as “weir true peak over −1, no verdict”. */
export const GET = route(inStudio("guest", "read"), async (request) =>
  searchMedia(
    parseMediaQuery(typed.parse(new URL(request.url).searchParams.get("q") ?? "")),
    await openableProjects(visitor()),
  ),
);
