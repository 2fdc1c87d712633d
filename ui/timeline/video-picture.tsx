"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { addressOf, api } from "@ui/api/api";
import { useWorkspace } from "@ui/state/workspace-store";
import { engine, useEngineState } from "@ui/state/listening-engine";
import type { ItemFacts } from "@ui/state/current-item";
import { recordingFrame } from "@ui/state/item-time";

/** Further from the sound than this, the picture is put right: less than two frames of film. */
const FAR_SECONDS = 0.08;

export const hasPicture = ({ source }: Pick<ItemFacts, "source">): boolean =>
  source.container?.includes("picture") ?? false;

/** The picture that belongs to the sound, at the place that is heard. It follows cuts: each place shows its own frame. */
export function VideoPicture({ facts }: { facts: ItemFacts }) {
  const ref = useRef<HTMLVideoElement>(null);
  const [failed, setFailed] = useState(false);
  const { playing } = useEngineState();
  const { hash } = facts.source;
  const { data } = useQuery({
    queryKey: ["picture-offset", hash],
    staleTime: Infinity,
    queryFn: () => api("GET /api/sources/{hash}/picture/offset", { params: { hash } }),
  });
  const offset = data?.offsetSeconds ?? 0;
  useEffect(() => {
    const video = ref.current;
    if (!video) return;
    let frame = 0;
    const place = () => {
      const item = playing ? engine().position / facts.sampleRate : useWorkspace.getState().cursor;
      const wanted = Math.max(0, recordingFrame(facts, item) / facts.sampleRate + offset);
      if (Math.abs(video.currentTime - wanted) > (playing ? FAR_SECONDS : 0.001)) video.currentTime = wanted;
      if (playing) frame = requestAnimationFrame(place);
    };
    if (playing) void video.play().catch(() => undefined);
    else video.pause();
    place();
    const end = useWorkspace.subscribe(
      (workspace, before) => workspace.cursor !== before.cursor && !playing && place(),
    );
    return () => {
      cancelAnimationFrame(frame);
      end();
    };
  }, [playing, offset, facts]);
  return (
    <figure
      className="absolute right-2 bottom-2 z-20 w-60 border border-hair bg-sheet"
      data-testid="picture"
      onPointerDown={(event) => event.stopPropagation()}
    >
      {failed ? (
        <p className="p-2 text-label text-soft">This browser cannot show this picture; it is delivered all the same.</p>
      ) : (
        <video
          ref={ref}
          muted
          playsInline
          preload="auto"
          src={addressOf("GET /api/sources/{hash}/picture", { params: { hash } })}
          onError={() => setFailed(true)}
          className="block w-full"
        />
      )}
    </figure>
  );
}
