import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { FileProblem, memorySource } from "./bytes";
import { identifyContainer } from "./container-signature";

const bytesOf = (latin: string, length = 64): Uint8Array => {
  const bytes = new Uint8Array(Math.max(length, latin.length));
  for (let i = 0; i < latin.length; i++) bytes[i] = latin.charCodeAt(i);
  return bytes;
};
const identify = (bytes: Uint8Array) => identifyContainer(memorySource(bytes));
const joined = (...parts: Uint8Array[]): Uint8Array => Uint8Array.from(parts.flatMap((part) => [...part]));

/** MPEG-1 layer III, 128 kbit/s at 44.1 kHz: 417 bytes a frame. */
const mpegFrame = bytesOf("\xff\xfb\x90\x00", 417);
const id3 = bytesOf("ID3\x04\x00\x00\x00\x00\x01\x00", 10 + 128);

describe("a container is known by its first bytes", () => {
  it.each([
    ["RIFF\0\0\0\0WAVEfmt ", "wav"],
    ["RF64\xff\xff\xff\xffWAVEds64", "wav"],
    ["RIFF\0\0\0\0AVI LIST", "avi"],
    ["FORM\0\0\0\0AIFC", "aiff"],
    ["caff\0\x01", "caf"],
    ["fLaC\0\0\0\x22", "flac"],
    ["OggS\0\x02", "ogg"],
    ["wvpk", "wv"],
    ["\0\0\0\x20ftypM4A ", "mov"],
    ["\0\0\0\x20ftypisom", "mov"],
    ["\0\0\x07\xd0moov", "mov"],
    ["\x1a\x45\xdf\xa3\x9f\x42\x86webm", "matroska"],
    ["\x30\x26\xb2\x75\x8e\x66\xcf\x11", "asf"],
    ["\0\0\x01\xba", "mpeg"],
    ["\x0b\x77\0\0\0\x40", "ac3"],
    ["\x0b\x77\0\0\0\x80", "eac3"],
  ])("%j is read by %s alone", async (magic, demuxer) => {
    expect((await identify(bytesOf(magic))).demuxer).toBe(demuxer);
  });
  it("tells MP4, MPEG-4 audio and QuickTime apart by their brand", async () => {
    const name = async (brand: string) => (await identify(bytesOf(`\0\0\0\x20ftyp${brand}`))).name;
    expect([await name("isom"), await name("M4A "), await name("qt  ")]).toEqual(["MP4", "MPEG-4 audio", "QuickTime"]);
  });
  it("knows MPEG audio by two frames in a row, behind tags and behind what is no sound", async () => {
    for (const before of [new Uint8Array(0), id3, joined(id3, id3), new Uint8Array(5000), bytesOf("\xff\xfb\x90", 700)])
      expect((await identify(joined(before, mpegFrame, mpegFrame))).demuxer).toBe("mp3");
  });
  it("knows AAC by its ADTS frames, and FLAC behind an ID3 tag", async () => {
    const adts = bytesOf("\xff\xf1\x50\x80\x0c\x9f\xfc", 100); // 100 bytes
    expect((await identify(joined(adts, adts))).demuxer).toBe("aac");
    expect((await identify(joined(id3, bytesOf("fLaC")))).demuxer).toBe("flac");
  });
  it("knows a transport stream by its packets, with or without time stamps", async () => {
    const stream = (packet: number) =>
      Uint8Array.from({ length: packet * 4 }, (_, i) => (i % packet === packet - 188 ? 0x47 : 1));
    for (const packet of [188, 192]) expect((await identify(stream(packet))).demuxer).toBe("mpegts");
  });
});

describe("what holds no sound itself is refused by its bytes, whatever it is called", () => {
  it.each([
    ["#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n/srv/other.mp3\n", /playlist/],
    ["\xef\xbb\xbf  \n#EXTM3U\n", /playlist/],
    ["[playlist]\nFile1=/srv/other.mp3\n", /playlist/],
    ['<?xml version="1.0"?>\n<MPD xmlns="urn:mpeg:dash:schema:mpd:2011">', /playlist/],
    ["ffconcat version 1.0\nfile /srv/other.mp3\n", /playlist/],
    ["file '/srv/other.mp3'\n", /script of file names/],
    ["v=0\r\no=- 0 0 IN IP4 127.0.0.1\r\n", /session description/],
    ["1\r\n00:00:01,000 --> 00:00:02,000\r\nHush\r\n", /subtitles/],
    ["WEBVTT\n", /subtitles/],
    ["\x89PNG\r\n\x1a\n", /image/],
    ["RIFF\0\0\0\0WEBPVP8 ", /image/],
    ["PK\x03\x04", /archive/],
    ["Dear Odda, the river is quiet.", /does not look like/],
    ["", /does not look like/],
  ])("%j", async (text, words) => {
    await expect(identify(bytesOf(text, text.length))).rejects.toThrow(words);
  });
  it("also behind an ID3 tag, where a demuxer would look as well", async () => {
    await expect(identify(joined(id3, bytesOf("#EXTM3U\n/srv/other.mp3\n")))).rejects.toThrow(/playlist/);
  });
  it("answers any bytes with a kind or a sentence, and never reads on for ever", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.uint8Array({ maxLength: 3000 }),
        fc.constantFrom("", "ID3", "RIFF", "\xff\xfb", "#"),
        async (noise, magic) => {
          const found = await identify(joined(bytesOf(magic, magic.length), noise)).catch((error: unknown) => error);
          expect(found instanceof FileProblem || typeof (found as { demuxer: string }).demuxer === "string").toBe(true);
        },
      ),
      { numRuns: 300 },
    );
  });
});
