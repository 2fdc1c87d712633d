/** What processors are for: a word, and a colour of the sheet that stands for it. */
export const GROUPS = [
  { id: "level", name: "Level" },
  { id: "tone", name: "Tone" },
  { id: "dynamics", name: "Dynamics" },
  { id: "colour", name: "Colour" },
  { id: "space", name: "Space" },
  { id: "loop", name: "Outboard" },
] as const;

export type GroupId = (typeof GROUPS)[number]["id"];

export const groupNamed = (id: GroupId): (typeof GROUPS)[number] => GROUPS.find((group) => group.id === id)!;
