import type { Me } from "@core/people/views";
import { inStudio } from "@server/people/access";
import { visitor } from "@server/people/visitor";
import { route } from "../respond";

/** Whoever asks, and their role in the studio. */
export const GET = route(inStudio("guest", "read"), async (): Promise<Me> => {
  const { person, role } = visitor();
  return { person, role };
});
