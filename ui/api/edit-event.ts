import { applyCommand } from "@core/project/commands";
import { blobsNamedIn } from "@core/project/project-file";
import type { ProjectView, EditEvent } from "@core/project/views";

/**
 * A project as it is after another page's edit, where that can be known here: it was made on the state that this page has,
 * and names nothing that the server has to tell about.
 * @returns `null` where the server has to be asked
 */
export function afterEdit(view: ProjectView, head: number, { parent, command }: EditEvent): ProjectView | null {
  if (view.head !== parent || blobsNamedIn(command).length > 0) return null;
  try {
    const document = applyCommand(view.document, command);
    const states = view.states + 1;
    return { ...view, document, head, undo: parent, redo: null, states, savedAt: new Date().toISOString() };
  } catch {
    return null; // of another version of the application, say
  }
}
