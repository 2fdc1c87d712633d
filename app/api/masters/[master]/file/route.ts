import { getMasterFile } from "@core/api/masters";
import { attachment, blobResponse } from "@server/http/http-range";
import { ofMaster } from "@server/people/access";
import { Problem } from "@server/problem";
import { masterFileName, masterOf } from "@server/rendering/masters";
import { route } from "../../../respond";

export const GET = route(
  getMasterFile,
  ofMaster("listen", "read"),
  async ({ params }, request) => {
    const master = await masterOf(params.master);
    if (!master.file_hash) throw new Problem(409, "Not rendered", "This master is not finished yet.");
    const { name, mediaType } = await masterFileName(master);
    return blobResponse(master.file_hash, request, {
      "Content-Type": mediaType,
      "Content-Disposition": attachment(name),
    });
  },
  "downloaded a master",
);
