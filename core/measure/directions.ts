import { atan2, cos, hypot, sin } from "../math/deterministic-math";
import type { TimeSeries, MeasurementDefinition } from "./measurement";
import { DecimatingSeries } from "./decimating-series";
import { BAND_COUNT, BLOCKS_PER_SECOND } from "./analysis-block";

/** Directions are told apart by this many degrees. */
export const DIRECTION_STEP = 10;
/** From 180° to the left round to 180° to the right. */
export const AZIMUTHS = 360 / DIRECTION_STEP;
/** From −90° to +90°, both poles with a step of their own. */
export const ELEVATIONS = 180 / DIRECTION_STEP + 1;
/** Ticks of a step in time: 400 ms. */
const WINDOW_TICKS = 4;

export interface DirectionCurves {
  /** Energy by azimuth over time: column 0 is 180° (behind), then from the left over the front to the right. */
  azimuths: TimeSeries;
  /** Energy by elevation over time, from below to above. */
  elevations: TimeSeries;
  /** Energy by band (row) and azimuth (column) over the whole. */
  bandAzimuths: TimeSeries;
}

const RADIANS = Math.PI / 180;

/** Column of an azimuth, positive to the left. */
export const azimuthColumn = (degrees: number): number =>
  Math.floor((180 - degrees + DIRECTION_STEP / 2) / DIRECTION_STEP) % AZIMUTHS;

/** Where the energy comes from: the energy vector in each band, over time. */
export const directions: MeasurementDefinition<object, DirectionCurves> = {
  id: "directions",
  help: "Azimuth and elevation of the energy over time, and azimuth by frequency",
  source: "Gerzon 1992, energy vector: Σ E·u / Σ E over the directions u of the speakers, LFE left out",
  create({ layout }) {
    const speakers = layout.speakers.flatMap(({ azimuth, elevation, lfe }, channel) => {
      const flat = cos(elevation * RADIANS);
      return lfe
        ? []
        : [
            {
              channel,
              front: flat * cos(azimuth * RADIANS),
              left: flat * sin(azimuth * RADIANS),
              up: sin(elevation * RADIANS),
            },
          ];
    });
    // Two speakers have no directions worth a map.
    const followed = layout.speakers.length > 2;
    const azimuths = new DecimatingSeries(AZIMUTHS);
    const elevations = new DecimatingSeries(ELEVATIONS);
    const bandAzimuths = new Float32Array(BAND_COUNT * AZIMUTHS);
    let azimuthRow: Float32Array | undefined;
    let elevationRow: Float32Array | undefined;
    return {
      block({ index, bands, hasBands }) {
        if (!followed) return;
        if (index % WINDOW_TICKS === 0) {
          azimuthRow = azimuths.next();
          elevationRow = elevations.next();
        }
        if (!hasBands) return;
        for (let band = 0; band < BAND_COUNT; band++) {
          let [energy, front, left, up] = [0, 0, 0, 0];
          for (const speaker of speakers) {
            const power = bands[speaker.channel * BAND_COUNT + band]!;
            energy += power;
            front += power * speaker.front;
            left += power * speaker.left;
            up += power * speaker.up;
          }
          if (energy === 0) continue;
          const flat = hypot(front, left);
          const column = azimuthColumn(atan2(left, front) / RADIANS);
          const elevation = atan2(up, flat) / RADIANS;
          azimuthRow![column]! += energy;
          elevationRow![Math.round((elevation + 90) / DIRECTION_STEP)]! += energy;
          bandAzimuths[band * AZIMUTHS + column]! += energy;
        }
      },
      result: () => {
        const hopSeconds = (WINDOW_TICKS * azimuths.fold) / BLOCKS_PER_SECOND;
        return {
          figures: {},
          curves: {
            azimuths: { hopSeconds, columns: AZIMUTHS, values: azimuths.values() },
            elevations: {
              hopSeconds: (WINDOW_TICKS * elevations.fold) / BLOCKS_PER_SECOND,
              columns: ELEVATIONS,
              values: elevations.values(),
            },
            // Rows are bands.
            bandAzimuths: { hopSeconds: 0, columns: AZIMUTHS, values: followed ? bandAzimuths : new Float32Array(0) },
          },
        };
      },
    };
  },
};
