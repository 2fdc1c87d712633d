import { CORE_VERSION } from "@core/audio/core-version";
import { getOpenApi } from "@core/api/operations";
import { openApiDocument } from "@core/api/open-api";
import { anyone } from "@server/people/access";
import { route } from "../respond";

let described: Record<string, unknown> | undefined;

export const GET = route(getOpenApi, anyone, async () => (described ??= openApiDocument(CORE_VERSION)));
