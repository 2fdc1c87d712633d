"use client";

import { Trash2 } from "lucide-react";
import { formatTime } from "@core/audio/format";
import { IconButton } from "@ui/design-system/icon-button";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";
import { NumberCell } from "./number-cell";
import { goToProgramme } from "@ui/state/programme-listening";

/** Markers of the programme: gone to, renamed, taken away. */
export function ProgrammeMarkers() {
  const { view, edit } = useCurrentItem();
  const { timeline } = useWholeProgramme();
  const { markers } = view.document.programme;
  return (
    <section aria-label="Markers of the programme" className="px-4 pb-4">
      <h2 className="text-label font-semibold">
        Markers of the programme
        {markers.length > 0 && (
          <span className="font-normal text-soft"> — a deliverable can be made of their stretches, a file each</span>
        )}
        {markers.length === 0 && (
          <span className="font-normal text-soft"> — none yet: N puts one at the playhead.</span>
        )}
      </h2>
      {markers.map((marker) => (
        <div key={marker.id} className="flex items-center gap-2 border-t border-grid text-label">
          <button
            type="button"
            className="figure w-20 text-right text-act hover:underline"
            onClick={() => timeline && goToProgramme(marker.start, timeline.sampleRate)}
          >
            {formatTime(marker.start, 1)}
          </button>
          <input
            key={marker.name}
            aria-label={`Name of the marker at ${formatTime(marker.start, 1)}`}
            className="w-56 rounded-[3px] border border-transparent bg-transparent px-1 hover:border-hair focus:border-act"
            defaultValue={marker.name}
            onBlur={(event) => {
              const name = event.target.value.trim();
              if (name !== marker.name) void edit({ type: "setProgrammeMarker", marker: { ...marker, name } });
            }}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
          <span className="w-20" title="Where its stretch ends; empty for the next marker">
            <NumberCell
              label={`End of the stretch of ${marker.name || formatTime(marker.start, 1)}`}
              value={marker.end ?? null}
              none="next"
              digits={2}
              onCommit={(end) => {
                const { end: _, ...point } = marker;
                if (end === null) return void edit({ type: "setProgrammeMarker", marker: point });
                const least = marker.start + 0.1;
                void edit({ type: "setProgrammeMarker", marker: { ...marker, end: Math.max(least, end) } });
              }}
            />
          </span>
          <span className="text-soft">s ends its stretch, fades</span>
          {(["fadeInSeconds", "fadeOutSeconds"] as const).map((field) => (
            <span
              key={field}
              className="w-14"
              title={field === "fadeInSeconds" ? "Fade-in of its file" : "Fade-out of its file"}
            >
              <NumberCell
                label={`${field === "fadeInSeconds" ? "Fade-in" : "Fade-out"} of the stretch of ${marker.name || formatTime(marker.start, 1)}`}
                value={marker[field] ?? null}
                none="none"
                digits={2}
                onCommit={(seconds) => {
                  const { [field]: _, ...plain } = marker;
                  const faded = seconds !== null && seconds > 0 ? { [field]: Math.min(60, seconds) } : {};
                  void edit({ type: "setProgrammeMarker", marker: { ...plain, ...faded } });
                }}
              />
            </span>
          ))}
          <IconButton
            label={`Remove the marker ${marker.name || formatTime(marker.start, 1)}`}
            onClick={() => void edit({ type: "removeProgrammeMarkers", markers: [marker.id] })}
          >
            <Trash2 size={13} />
          </IconButton>
        </div>
      ))}
    </section>
  );
}
