import { CROSSFADE_SHAPES, type Crossfade } from "@core/edit-list/clip";
import { Select, Setting } from "@ui/design-system/controls";

/** Seconds of a crossfade that are offered. */
const CROSSFADE_SECONDS = [0.002, 0.008, 0.02, 0.05, 0.2, 0.5, 1, 2];

/** Shape and length of a crossfade. */
export function CrossfadeSetting({
  words,
  crossfade,
  onChange,
}: {
  words: string;
  crossfade: Crossfade;
  onChange: (crossfade: Crossfade) => void;
}) {
  return (
    <Setting label={words}>
      <span className="flex gap-1">
        <Select
          label={`Shape of ${words}`}
          value={crossfade.shape}
          options={CROSSFADE_SHAPES}
          onChange={(shape) => onChange({ ...crossfade, shape })}
        />
        <Select
          label={`Length of ${words}`}
          value={crossfade.seconds}
          options={
            CROSSFADE_SECONDS.includes(crossfade.seconds)
              ? CROSSFADE_SECONDS
              : [crossfade.seconds, ...CROSSFADE_SECONDS]
          }
          words={(s) => (s < 1 ? `${s * 1000} ms` : `${s} s`)}
          onChange={(s) => onChange({ ...crossfade, seconds: s })}
        />
      </span>
    </Setting>
  );
}
