import { getDocument } from "@core/api/masters";
import { deliveryOf, documentNamed } from "@server/delivery/documents";
import { attachment } from "@server/http/http-range";
import { inProject } from "@server/people/access";
import { heavyRoute } from "../../../../respond";

export const GET = heavyRoute(
  getDocument,
  inProject("listen", "read"),
  async ({ params }) => {
    const paper = documentNamed(await deliveryOf(params.project), decodeURIComponent(params.name));
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
