import { getMasterChannels } from "@core/api/masters";
import { fileName } from "@core/project/file-name";
import { attachment } from "@server/http/http-range";
import { channelsZip } from "@server/delivery/zip";
import { ofMaster } from "@server/people/access";
import { masterOf } from "@server/rendering/masters";
import { route } from "../../../respond";

export const GET = route(
  getMasterChannels,
  ofMaster("listen", "read"),
  async ({ params }) => {
    const master = await masterOf(params.master);
    const name = `${fileName(master.inputs.tags.title)} - channels.zip`;
    return new Response(channelsZip(master), {
      headers: { "Content-Type": "application/zip", "Content-Disposition": attachment(name) },
    });
  },
  "downloaded a master by channels",
);
