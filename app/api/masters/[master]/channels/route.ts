import { masterOf } from "@server/rendering/masters";
import { attachment } from "@server/http/http-range";
import { channelsZip } from "@server/delivery/zip";
import { fileName } from "@core/project/file-name";
import { ofMaster } from "@server/people/access";
import { route, uuidParam } from "../../../respond";

/** One mono file a channel, as a zip. */
export const GET = route<{ master: string }>(
  ofMaster("listen", "read"),
  async (_request, params) => {
    const master = await masterOf(uuidParam.parse(params.master));
    const name = `${fileName(master.inputs.tags.title)} - channels.zip`;
    return new Response(channelsZip(master), {
      headers: { "Content-Type": "application/zip", "Content-Disposition": attachment(name) },
    });
  },
  "downloaded a master by channels",
);
