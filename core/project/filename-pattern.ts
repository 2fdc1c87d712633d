/** Names of master files, by a pattern. */
import { formatWords } from "../delivery/recipe";
import { distinctNames, fileName, nameKey } from "./file-name";
import { CONTAINER_ABOUT } from "../files/containers";
import { allSubjects, titleNumber } from "./subjects";
import { specOf, type Deliverable, type Item, type ProjectDocument } from "./document";

export interface NamedCell {
  item: Item;
  deliverable: Deliverable;
  name: string;
  /** Whether the pattern gives another master the same name; capitals make no difference to some file systems. */
  clashes: boolean;
}

type Project = ProjectDocument;
type Filler = (project: Project, item: Item, deliverable: Deliverable) => string;

const TOKENS: Readonly<Record<string, { help: string; fill: Filler }>> = {
  track: {
    help: "place in the running order, with as many digits as the last has; nothing for the whole programme",
    fill(project, item) {
      const number = titleNumber(project, item);
      return number === 0 ? "" : String(number).padStart(Math.max(2, String(project.items.length).length), "0");
    },
  },
  title: { help: "name of the item", fill: (_, item) => item.name },
  album: { help: "title of the whole", fill: ({ about, name }) => about.title || name },
  artist: { help: "artist of the item", fill: ({ about }, item) => item.about?.artist || about.artist },
  spec: { help: "name of the specification", fill: (project, _, { spec }) => specOf(project, spec).name },
  id: { help: "its id", fill: (_, __, { spec }) => spec },
  format: { help: "kind of file, depth and rate", fill: (_, __, { format }) => formatWords(format) },
  mix: {
    help: "name of the mix, where a deliverable asks for one",
    fill: (_, __, { mix }) => mix ?? "",
  },
  isrc: { help: "code of the recording", fill: (_, item) => item.about?.isrc ?? "" },
  catalogue: { help: "catalogue number", fill: ({ about }) => about.catalogue },
};

/** What may stand in braces, with what it means. */
export const NAME_TOKENS = Object.entries(TOKENS).map(([token, { help }]) => ({ token, help }));

function extensionOf({ sources }: Project, item: Item, { format }: Deliverable): string {
  if (format.container !== "video") return CONTAINER_ABOUT[format.container].extension;
  const source = sources.find(({ hash }) => hash === item.source);
  return /\.([a-z0-9]{2,4})$/i.exec(source?.name ?? "")?.[1]?.toLowerCase() ?? "mp4";
}

/** Words in braces that mean nothing. */
export const unknownTokens = (pattern: string): string[] =>
  [...pattern.matchAll(/\{([^}]*)\}/g)].map(([, token]) => token!).filter((token) => !Object.hasOwn(TOKENS, token));

/** By the pattern alone: others may come to the same. */
function patternName(project: Project, item: Item, deliverable: Deliverable): string {
  const filled = project.naming.replace(/\{([^}]*)\}/g, (whole, token: string) =>
    Object.hasOwn(TOKENS, token) ? TOKENS[token]!.fill(project, item, deliverable) : whole,
  );
  return `${fileName(filled.trim())}.${extensionOf(project, item, deliverable)}`;
}

/** The names of all masters of a project, each once: where the pattern gives one twice, the later get numbers. */
export function masterNames(project: Project): NamedCell[] {
  const subjects = allSubjects(project);
  const places = new Map(project.items.map(({ id }, index) => [id, index]));
  const place = (id: string) => places.get(id) ?? -1; // the whole, before its items
  // By item: what gets a number to be told apart does so in the running order.
  const cells = subjects
    .sort((a, b) => place(a.item.id) - place(b.item.id))
    .map(({ item, deliverable }) => ({ item, deliverable, name: patternName(project, item, deliverable) }));
  const counts = new Map<string, number>();
  for (const { name } of cells) counts.set(nameKey(name), (counts.get(nameKey(name)) ?? 0) + 1);
  const names = distinctNames(cells.map(({ name }) => name));
  return cells.map((cell, n) => ({ ...cell, name: names[n]!, clashes: counts.get(nameKey(cell.name))! > 1 }));
}
