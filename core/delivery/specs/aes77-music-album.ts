import { loudnessBetween, SPEC_DEFAULTS, truePeakAtMost, type DeliverySpec } from "../spec";

/** Albums: the loudest title is brought to the target, and all others by the same gain. */
export const aes77MusicAlbum: DeliverySpec = {
  ...SPEC_DEFAULTS,
  id: "aes77-music-album",
  name: "AES77 music, album",
  help: "Albums for streaming: the loudest item at −14 LUFS, one gain for all, so that their relations are kept",
  source: "AES77 / TD1008",
  edition: "2023",
  target: -14,
  normalise: "gain and limiter",
  gainScope: "album",
  ceilingDbtp: -1,
  limits: [
    { ...loudnessBetween(-14.5, -13.5, "AES77 / TD1008, loudest track of the album"), scope: "album" },
    {
      figure: "integratedLufs",
      max: -13.5,
      required: true,
      marginalWithin: 0.2,
      clause: "AES77 / TD1008, no track is louder",
    },
    truePeakAtMost(-1, "AES77 / TD1008, maximum true peak"),
  ],
};
