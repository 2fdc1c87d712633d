/** What an edit would make of something that somebody else has changed meanwhile: both values, for whoever chooses. */
import { settingWords, type Parameter, type Setting } from "../parameters/parameter";
import { PROCESSORS } from "../processors";
import { REPAIRS } from "../repair";
import { applyCommand, type Command } from "./commands";
import type { ProjectDocument } from "./document";

export interface ContradictingValue {
  /** Where it stands: names of what it lies in, then its own. */
  what: string;
  /** As it is, by the other's edit. */
  theirs: string;
  mine: string;
}

type Fields = Record<string, unknown>;
const isFields = (value: unknown): value is Fields =>
  typeof value === "object" && value !== null && !Array.isArray(value);
type Element = Fields & { id: string };
const isElements = (value: unknown): value is Element[] =>
  Array.isArray(value) && value.every((one) => isFields(one) && typeof one.id === "string");

/**
 * Values that differ between a document as it is and as it would be after `mine`.
 * @throws CommandProblem where it cannot be made any more
 */
export function contradictingValues(document: ProjectDocument, mine: Command): ContradictingValue[] {
  const found: ContradictingValue[] = [];
  compare(document, applyCommand(document, mine), [], found, { unit: "" });
  return found;
}

function compare(
  theirs: unknown,
  mine: unknown,
  at: readonly string[],
  found: ContradictingValue[],
  field: Field,
): void {
  if (JSON.stringify(theirs) === JSON.stringify(mine)) return;
  if (isElements(theirs) && isElements(mine)) compareElements(theirs, mine, at, found);
  else if (isFields(theirs) && isFields(mine)) compareFields(theirs, mine, at, found);
  // What is no element is told by its fields, also where only one of the two has it.
  else if (theirs === undefined && isFields(mine) && !("id" in mine)) compareFields({}, mine, at, found);
  else if (mine === undefined && isFields(theirs) && !("id" in theirs)) compareFields(theirs, {}, at, found);
  else
    found.push({
      what: at.join(" · "),
      theirs: valueWords(theirs, field),
      mine: valueWords(mine, field),
    });
}

function compareFields(theirs: Fields, mine: Fields, at: readonly string[], found: ContradictingValue[]): void {
  const parameters = parametersOf(mine);
  for (const name of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const parameter = parameters[name];
    const { words, unit } = fieldNamed(name);
    compare(theirs[name], mine[name], [...at, parameter?.label ?? words], found, { parameter, unit });
  }
}

function compareElements(
  theirs: readonly Element[],
  mine: readonly Element[],
  at: readonly string[],
  found: ContradictingValue[],
): void {
  const before = found.length;
  for (const id of new Set([...theirs, ...mine].map((one) => one.id))) {
    const [own, other] = [mine.find((one) => one.id === id), theirs.find((one) => one.id === id)];
    // The list itself needs no name: what stands in it has one.
    compare(other, own, [...at.slice(0, -1), elementName((own ?? other)!)], found, { unit: "" });
  }
  if (found.length > before) return;
  const order = (elements: readonly Fields[]) => elements.map((one) => elementName(one)).join(", ");
  found.push({ what: [...at, "order"].join(" · "), theirs: order(theirs), mine: order(mine) });
}

const definitionOf = ({ type }: Fields) => [...PROCESSORS, ...REPAIRS].find(({ id }) => id === type);

const parametersOf = (fields: Fields): Readonly<Record<string, Parameter | undefined>> =>
  definitionOf(fields)?.parameters ?? {};

function elementName(fields: Fields): string {
  if (typeof fields.name === "string" && fields.name !== "") return fields.name;
  return definitionOf(fields)?.name ?? String(fields.type ?? fields.spec ?? fields.kind ?? fields.id);
}

interface Field {
  parameter?: Parameter | undefined;
  /** Of a number that is no parameter. */
  unit: string;
}

/** Units by how names of fields end; places in recordings are frames. */
const UNITS: readonly (readonly [RegExp, string])[] = [
  [/Seconds$/, "s"],
  [/Percent$/, "%"],
  [/Dbtp$/, "dBTP"],
  [/Dbfs$/, "dBFS"],
  [/Db$/, "dB"],
  [/Hz$/, "Hz"],
  [/^(start|end|frames?)$/, "frames"],
];

/** "gapSeconds" as "gap", of seconds. */
function fieldNamed(name: string): { words: string; unit: string } {
  const [ending, unit] = UNITS.find(([pattern]) => pattern.test(name)) ?? [null, ""];
  const bare = ending && unit !== "frames" ? name.replace(ending, "") : name;
  return { words: bare.replaceAll(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`), unit };
}

const LONGEST = 60;

function valueWords(value: unknown, { parameter, unit }: Field): string {
  if (value === undefined || value === null) return "none";
  if (typeof value === "boolean") return value ? "on" : "off";
  if (typeof value === "number" && !parameter)
    return `${String(Math.round(1000 * value) / 1000).replace("-", "−")} ${unit}`.trim();
  if (typeof value === "string" || typeof value === "number") {
    const words = parameter ? settingWords({ ...parameter, label: "" }, value as Setting).trim() : String(value);
    return words.length > LONGEST ? `${words.slice(0, LONGEST)} …` : words;
  }
  if (Array.isArray(value)) return value.length === 1 ? "1 of them" : `${value.length} of them`;
  const { name, type } = value as Fields;
  return name || type ? elementName(value as Fields) : "there";
}
