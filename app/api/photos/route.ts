import { keepPhoto } from "@server/ingest/photos";
import { route } from "../respond";

/** Keeps the picture in the body. */
export const POST = route(keepPhoto);
