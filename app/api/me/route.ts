import { getMe } from "@core/api/account";
import { inStudio } from "@server/people/access";
import { principal } from "@server/people/principal";
import { route } from "../respond";

export const GET = route(getMe, inStudio("guest", "read"), async () => {
  const { person, role } = principal();
  return { person, role };
});
