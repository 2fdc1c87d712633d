import { CROSSFADE_SHAPES, type Crossfade } from "@core/edit-list/clip";
import { Choice, Setting } from "@ui/shared/setting";

/** Seconds of a joint's crossfade that are offered. */
const JOINT_SECONDS = [0.002, 0.008, 0.02, 0.05, 0.2, 0.5, 1, 2];

/** Shape and length of a joint. */
export function JointSetting({
  words,
  joint,
  onChange,
}: {
  words: string;
  joint: Crossfade;
  onChange: (joint: Crossfade) => void;
}) {
  return (
    <Setting words={words}>
      <span className="flex gap-1">
        <Choice
          label={`Shape of ${words}`}
          value={joint.shape}
          of={CROSSFADE_SHAPES}
          onChoose={(shape) => onChange({ ...joint, shape })}
        />
        <Choice
          label={`Length of ${words}`}
          value={joint.seconds}
          of={JOINT_SECONDS.includes(joint.seconds) ? JOINT_SECONDS : [joint.seconds, ...JOINT_SECONDS]}
          words={(s) => (s < 1 ? `${s * 1000} ms` : `${s} s`)}
          onChoose={(s) => onChange({ ...joint, seconds: s })}
        />
      </span>
    </Setting>
  );
}
