import { masterFileName, masterOf } from "@server/rendering/masters";
import { Problem } from "@server/problem";
import { attachment, blobResponse } from "@server/http/http-range";
import { ofMaster } from "@server/people/access";
import { route, uuidParam } from "../../../respond";

/** The file of a finished master, whole or in ranges. */
export const GET = route<{ master: string }>(
  ofMaster("listen", "read"),
  async (request, params) => {
    const master = await masterOf(uuidParam.parse(params.master));
    if (!master.file_hash) throw new Problem(409, "Not rendered", "This master is not finished yet.");
    const { name, mediaType } = await masterFileName(master);
    return blobResponse(master.file_hash, request, {
      "Content-Type": mediaType,
      "Content-Disposition": attachment(name),
    });
  },
  "downloaded a master",
);
