import { searchMedia as endpoint } from "@core/api/recordings";
import { parseMediaQuery } from "@core/project/media-query";
import { inStudio, openableProjects } from "@server/people/access";
import { principal } from "@server/people/principal";
import { searchMedia } from "@server/projects/media-search";
import { route } from "../respond";

export const GET = route(endpoint, inStudio("guest", "read"), async ({ query }) =>
  searchMedia(parseMediaQuery(query.q), await openableProjects(principal())),
);
