"use client";

import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { create } from "zustand";
import type { Progress, ServerEvent } from "@core/project/views";
import { settled } from "./pending-edits";

/** Progress of recordings being read and masters being rendered, by hash or id. Not kept: it is only of the moment. */
export const useJobProgress = create<{ progress: Record<string, Progress>; connected: boolean }>(() => ({
  progress: {},
  connected: true,
}));

/** Listens to the server and refreshes what its events say has changed. */
export function ServerEvents() {
  const client = useQueryClient();
  useEffect(() => {
    const events = new EventSource("/api/events");
    events.onopen = () => {
      useJobProgress.setState({ connected: true });
      void client.invalidateQueries(); // whatever was missed
    };
    events.onerror = () => useJobProgress.setState({ connected: false });
    events.onmessage = ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as ServerEvent;
      if (event.topic === "project") {
        const { project, head } = event;
        // An own edit is told here as well, often before its answer is there.
        void settled(project).then(() => {
          const known = client.getQueryData<{ head: number }>(["project", project]);
          if (head === undefined || known?.head !== head)
            void client.invalidateQueries({ queryKey: ["project", project] });
        });
        void client.invalidateQueries({ queryKey: ["history", event.project] });
        void client.invalidateQueries({ queryKey: ["projects"] });
        return;
      }
      if (event.topic === "people") return void client.invalidateQueries();
      if (event.topic === "projects") return void client.invalidateQueries({ queryKey: ["projects"] });
      const id = event.topic === "source" ? event.hash : event.master;
      useJobProgress.setState(({ progress }) => {
        const { [id]: _, ...others } = progress;
        return { progress: event.progress ? { ...others, [id]: event.progress } : others };
      });
      if (!event.progress) {
        void client.invalidateQueries({
          queryKey: event.topic === "master" ? ["project", event.project] : ["project"],
        });
        void client.invalidateQueries({ queryKey: ["projects"] });
      }
    };
    return () => events.close();
  }, [client]);
  return null;
}
