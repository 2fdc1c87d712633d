/**
 * Which channel is which by the Audio Definition Model (ITU-R BS.2076): the `chna` chunk of a BW64 file names a channel
 * format for each track; the `axml` chunk, or the common definitions of ITU-R BS.2094, say where it belongs.
 */
import { FileProblem } from "./bytes";
import { XMLParser } from "fast-xml-parser";
import { layoutOfLabels, type Layout } from "../audio/layout";
import { text, view } from "./chunk-bytes";

/** Labels of ITU-R BS.2051, and ours. */
export const LABELS: Readonly<Record<string, string>> = {
  "M+030": "L",
  "M-030": "R",
  "M+000": "C",
  LFE: "LFE",
  LFE1: "LFE",
  LFE2: "LFE2",
  "M+110": "Ls",
  "M-110": "Rs",
  "M+090": "Lss",
  "M-090": "Rss",
  "M+135": "Lb",
  "M-135": "Rb",
  "M+060": "Lw",
  "M-060": "Rw",
  "M+022": "Lc",
  "M-022": "Rc",
  "M+180": "Cb",
  "U+030": "Ltf",
  "U-030": "Rtf",
  "U+045": "Ltf",
  "U-045": "Rtf",
  "U+090": "Ltm",
  "U-090": "Rtm",
  "U+110": "Ltb",
  "U-110": "Rtb",
  "U+135": "Ltb",
  "U-135": "Rtb",
  "U+000": "Ctf",
  "T+000": "T",
  "U+180": "Ctb",
  "B+045": "Lbf",
  "B+000": "Cbf",
  "B-045": "Rbf",
};

/** Channel formats of ITU-R BS.2094, by the last two digits of AC_000100xx. */
const COMMON: Readonly<Record<string, string>> = {
  "01": "M+030",
  "02": "M-030",
  "03": "M+000",
  "04": "LFE",
  "05": "M+110",
  "06": "M-110",
  "07": "M+022",
  "08": "M-022",
  "09": "M+180",
  "0a": "M+090",
  "0b": "M-090",
  "0c": "T+000",
  "0d": "U+030",
  "0e": "U+000",
  "0f": "U-030",
  "10": "U+110",
  "11": "U+180",
  "12": "U-110",
  "13": "U+090",
  "14": "U-090",
  "15": "B+000",
  "16": "B+045",
  "17": "B-045",
  "18": "M+060",
  "19": "M-060",
  "1c": "M+135",
  "1d": "M-135",
};

const ENTRY_BYTES = 40;
const HEADER_BYTES = 4;

/** Digits of the channel format that each track refers to, in the order of the tracks; `undefined` for none. */
function channelFormats(chna: Uint8Array, channels: number): (string | undefined)[] {
  const body = view(chna);
  const formats = new Array<string | undefined>(channels).fill(undefined);
  for (let at = HEADER_BYTES; at + ENTRY_BYTES <= chna.length; at += ENTRY_BYTES) {
    const track = body.getUint16(at, true);
    if (track < 1 || track > channels) continue;
    const reference = text(chna.subarray(at + 14, at + 28));
    const digits = /^A[TC]_([0-9a-f]{8})/i.exec(reference)?.[1];
    if (digits) formats[track - 1] = digits.toLowerCase();
  }
  return formats;
}

/** Types of channels that are no loudspeakers, by the digits of their definition (BS.2076-2, 5.3.3). */
const NOT_RENDERED: Readonly<Record<string, readonly [one: string, several: string]>> = {
  "0002": ["a matrix of other channels", "matrices of other channels"],
  "0003": ["a moving object", "moving objects"],
  "0004": ["a scene component (HOA)", "scene components (HOA)"],
};

/**
 * Refuses what is no feed of a loudspeaker: taken as one, its loudness, peaks and folds would be those of something
 * that nobody hears.
 * @throws FileProblem that names the tracks
 */
export function refuseUnrendered(chna: Uint8Array, channels: number): void {
  const formats = channelFormats(chna, channels);
  for (const [type, [one, several]] of Object.entries(NOT_RENDERED)) {
    const tracks = formats.flatMap((digits, track) => (digits?.startsWith(type) ? [track + 1] : []));
    if (tracks.length === 0) continue;
    const named = tracks.length === 1 ? `Track ${tracks[0]} is ${one}` : `Tracks ${tracks.join(", ")} are ${several}`;
    throw new FileProblem(
      `${named} (Audio Definition Model, ITU-R BS.2076), which this version does not render yet: measured as loudspeakers they would give wrong figures. Render the programme to a layout of loudspeakers, such as 7.1.4, and take that in.`,
    );
  }
}

type Xml = Record<string, unknown>;
const asList = (value: unknown): Xml[] =>
  (Array.isArray(value) ? value : value === undefined ? [] : [value]).filter(
    (one): one is Xml => typeof one === "object" && one !== null,
  );

/** Everything called `name`, at any depth. */
function allOf(node: unknown, name: string): Xml[] {
  if (typeof node !== "object" || node === null) return [];
  return Object.entries(node).flatMap(([key, value]) =>
    key === name ? asList(value) : (Array.isArray(value) ? value : [value]).flatMap((one) => allOf(one, name)),
  );
}

/** Speaker labels of the channel formats that the document itself defines, by their digits. */
function definedLabels(axml: string): Map<string, string> {
  const labels = new Map<string, string>();
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: "@", processEntities: false });
  let document: unknown;
  try {
    document = parser.parse(axml);
  } catch {
    return labels; // what is no XML says nothing
  }
  for (const format of allOf(document, "audioChannelFormat")) {
    const digits = /^AC_([0-9a-f]{8})/i.exec(String(format["@audioChannelFormatID"]))?.[1];
    const [block] = allOf(format, "audioBlockFormat");
    const [spoken] = Array.isArray(block?.speakerLabel) ? (block.speakerLabel as unknown[]) : [block?.speakerLabel];
    if (digits && typeof spoken === "string") labels.set(digits.toLowerCase(), spoken.split(":").pop()!);
  }
  return labels;
}

/** The layout that `chna` and `axml` tell; `undefined` where a track is no fixed speaker, or not known. */
export function layoutFromAdm(chna: Uint8Array, axml: string | undefined, channels: number): Layout | undefined {
  const formats = channelFormats(chna, channels);
  const defined = axml === undefined ? new Map<string, string>() : definedLabels(axml);
  const labels = formats.map((digits) => {
    if (digits === undefined) return undefined;
    const standard = defined.get(digits) ?? (digits.startsWith("000100") ? COMMON[digits.slice(6)] : undefined);
    return standard === undefined ? undefined : LABELS[standard];
  });
  if (!labels.every((label) => label !== undefined) || new Set(labels).size !== labels.length) return undefined;
  return layoutOfLabels(labels as string[]);
}
