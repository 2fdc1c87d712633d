/**
 * The Audio Definition Model (ITU-R BS.2076-2) of a bed of loudspeaker channels: the `axml` document and the `chna`
 * chunk that ties the tracks of a BW64 file to it. Every channel is defined with its direction, so that a reader needs
 * no common definitions.
 */
import type { Layout, Speaker } from "../audio/layout";
import type { Seconds } from "../audio/units";
import { LABELS } from "./adm-layout";
import { ByteWriter } from "./chunk-bytes";
import { chunk, xmlEscaped } from "./riff-chunks";
import { utf8 } from "../math/utf8";

const TYPE = "0001"; // DirectSpeakers
/** Below this, ids belong to the common definitions of ITU-R BS.2094. */
const FIRST_OWN = 0x1001;

const hex = (value: number, width = 4): string => value.toString(16).padStart(width, "0");
const ownId = (index: number): string => `${TYPE}${hex(FIRST_OWN + index)}`;

/** hh:mm:ss.zzzzz, as BS.2076 writes times. */
function admTime(seconds: Seconds): string {
  const units = Math.round(seconds * 100_000);
  const two = (n: number) => String(n).padStart(2, "0");
  const whole = Math.floor(units / 100_000);
  const rest = String(units % 100_000).padStart(5, "0");
  return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}.${rest}`;
}

const azimuthOf = (label: string): number => Number(/[+-]\d{3}/.exec(label)?.[0] ?? 0);

/** The label of ITU-R BS.2051 that stands for a speaker: of those that mean the same, the nearest in direction. */
function standardLabel({ label, azimuth, lfe }: Speaker): string {
  if (lfe) return label === "LFE2" ? "LFE2" : "LFE1";
  const meant = label === "M" ? "C" : label;
  const candidates = Object.keys(LABELS).filter((standard) => LABELS[standard] === meant);
  const away = (standard: string) => Math.abs(azimuthOf(standard) - azimuth);
  return candidates.sort((a, b) => away(a) - away(b))[0] ?? label;
}

function channelFormat(speaker: Speaker, index: number): string {
  const id = ownId(index);
  const label = standardLabel(speaker);
  const low = speaker.lfe ? '<frequency typeDefinition="lowPass">120</frequency>' : "";
  return `<audioChannelFormat audioChannelFormatID="AC_${id}" audioChannelFormatName="${xmlEscaped(speaker.label)}" typeLabel="${TYPE}" typeDefinition="DirectSpeakers">${low}<audioBlockFormat audioBlockFormatID="AB_${id}_00000001"><speakerLabel>${xmlEscaped(label)}</speakerLabel><position coordinate="azimuth">${speaker.azimuth.toFixed(1)}</position><position coordinate="elevation">${speaker.elevation.toFixed(1)}</position><position coordinate="distance">1.0</position></audioBlockFormat></audioChannelFormat>
<audioStreamFormat audioStreamFormatID="AS_${id}" audioStreamFormatName="PCM_${xmlEscaped(speaker.label)}" formatLabel="0001" formatDefinition="PCM"><audioChannelFormatIDRef>AC_${id}</audioChannelFormatIDRef><audioTrackFormatIDRef>AT_${id}_01</audioTrackFormatIDRef></audioStreamFormat>
<audioTrackFormat audioTrackFormatID="AT_${id}_01" audioTrackFormatName="PCM_${xmlEscaped(speaker.label)}" formatLabel="0001" formatDefinition="PCM"><audioStreamFormatIDRef>AS_${id}</audioStreamFormatIDRef></audioTrackFormat>`;
}

export interface AdmFacts {
  title: string;
  /** BCP 47. */
  language?: string;
  durationSeconds: Seconds;
  sampleRate: number;
  bits: number;
}

const trackUid = (index: number): string => `ATU_${hex(index + 1, 8)}`;
const PACK = `AP_${ownId(0)}`;

export function admXml(
  { name, speakers }: Layout,
  { title, language, durationSeconds, sampleRate, bits }: AdmFacts,
): string {
  const end = admTime(durationSeconds);
  const named = xmlEscaped(title || "Programme");
  const spoken = language ? ` audioProgrammeLanguage="${xmlEscaped(language)}"` : "";
  const refs = (tag: string, id: (index: number) => string) =>
    speakers.map((_, index) => `<${tag}>${id(index)}</${tag}>`).join("");
  return `<?xml version="1.0" encoding="UTF-8"?>
<ebuCoreMain xmlns="urn:ebu:metadata-schema:ebucore"><coreMetadata><format><audioFormatExtended version="ITU-R_BS.2076-2">
<audioProgramme audioProgrammeID="APR_1001" audioProgrammeName="${named}"${spoken} start="00:00:00.00000" end="${end}"><audioContentIDRef>ACO_1001</audioContentIDRef></audioProgramme>
<audioContent audioContentID="ACO_1001" audioContentName="${named}"><audioObjectIDRef>AO_1001</audioObjectIDRef></audioContent>
<audioObject audioObjectID="AO_1001" audioObjectName="${named}" start="00:00:00.00000" duration="${end}"><audioPackFormatIDRef>${PACK}</audioPackFormatIDRef>${refs("audioTrackUIDRef", trackUid)}</audioObject>
<audioPackFormat audioPackFormatID="${PACK}" audioPackFormatName="${xmlEscaped(name)}" typeLabel="${TYPE}" typeDefinition="DirectSpeakers">${refs("audioChannelFormatIDRef", (index) => `AC_${ownId(index)}`)}</audioPackFormat>
${speakers.map(channelFormat).join("\n")}
${speakers.map((_, index) => `<audioTrackUID UID="${trackUid(index)}" sampleRate="${sampleRate}" bitDepth="${bits}"><audioTrackFormatIDRef>AT_${ownId(index)}_01</audioTrackFormatIDRef><audioPackFormatIDRef>${PACK}</audioPackFormatIDRef></audioTrackUID>`).join("\n")}
</audioFormatExtended></format></coreMetadata></ebuCoreMain>`;
}

function chna({ speakers }: Layout): Uint8Array {
  const body = new ByteWriter().u16(speakers.length).u16(speakers.length);
  speakers.forEach((_, index) => {
    body
      .u16(index + 1)
      .ascii(trackUid(index), 12)
      .ascii(`AT_${ownId(index)}_01`, 14)
      .ascii(PACK, 11)
      .zeros(1);
  });
  return body.done();
}

/** Both chunks; they stand before the sound. */
export const admChunks = (layout: Layout, facts: AdmFacts): Uint8Array =>
  new ByteWriter()
    .raw(chunk("chna", chna(layout)))
    .raw(chunk("axml", utf8(admXml(layout, facts))))
    .done();
