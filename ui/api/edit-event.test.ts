import { describe, expect, it } from "vitest";
import { newProject } from "@core/project/templates";
import type { ProjectView } from "@core/project/views";
import { afterEdit } from "./edit-event";

const view = { id: "p", head: 7, undo: 6, redo: 9, states: 3, document: newProject("Tide", "music") } as ProjectView;
const rename = { type: "renameProject", name: "Ebb" } as const;

describe("another page's edit", () => {
  it("is put on the state that it was made on", () => {
    const after = afterEdit(view, 8, { parent: 7, command: rename })!;
    expect(after).toMatchObject({ head: 8, undo: 7, redo: null, states: 4, document: { name: "Ebb" } });
    expect(view.document.name).toBe("Tide");
  });
  it("is asked of the server where it was made on another, names content, or is not understood here", () => {
    expect(afterEdit(view, 8, { parent: 6, command: rename })).toBeNull();
    const source = { hash: "a".repeat(64), name: "Reed.wav" };
    const item = { id: "i", name: "Reed", source: source.hash, repairs: [], chain: [], markers: [] };
    expect(afterEdit(view, 8, { parent: 7, command: { type: "addSource", source, item } })).toBeNull();
    expect(afterEdit(view, 8, { parent: 7, command: { type: "renameItem", item: "none", name: "x" } })).toBeNull();
    expect(afterEdit(view, 8, { parent: 7, command: { type: "unheardOf" } as never })).toBeNull();
  });
});
