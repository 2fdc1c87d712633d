import { deliveryOf, documentNamed } from "@server/delivery/documents";
import { attachment } from "@server/http/http-range";
import { inProject } from "@server/people/access";
import { heavyRoute, uuidParam } from "../../../../respond";

/** One document of the delivery as it is now. */
export const GET = heavyRoute<{ project: string; name: string }>(
  inProject("listen", "read"),
  async (_request, params) => {
    const paper = documentNamed(await deliveryOf(uuidParam.parse(params.project)), decodeURIComponent(params.name));
    return new Response((await paper.make()) as BodyInit, {
      headers: {
        "Content-Type": paper.mediaType,
        "Content-Disposition": attachment(paper.name),
        "Cache-Control": "no-store",
      },
    });
  },
  "downloaded a document",
);
