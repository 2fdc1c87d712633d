/** `resonum owner`: whoever has the machine makes an owner of the studio, or gives one who forgot it another password. */
import { CliProblem } from "./outcome";
import { runInStudio, type StudioOptions } from "./studio";

export function makeOwner(email: string, options: StudioOptions & { name?: string }): Promise<void> {
  if (!/^[^\s@]+@[^\s@]+$/.test(email)) throw new CliProblem(`“${email}” is no e-mail address.`);
  return runInStudio("people", ["owner", email, options.name ?? ""], options);
}
