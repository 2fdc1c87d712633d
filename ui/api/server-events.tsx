"use client";

import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useReducer } from "react";
import { create } from "zustand";
import type { Progress, ProjectView, ServerEvent } from "@core/project/views";
import { afterEdit } from "./edit-event";
import { api } from "./api";
import { tellRefusedEdit } from "./contradictions";
import { useSignedOut } from "./signed-out";
import { receivePresence } from "./presence";
import { settled } from "./pending-edits";

/** Progress of recordings being read and masters being rendered, by hash or id. Not kept: it is only of the moment. */
export const useJobProgress = create<{ progress: Record<string, Progress>; connected: boolean }>(() => ({
  progress: {},
  connected: true,
}));

/** After a refusal, a browser does not ask again by itself. */
const REFUSED_MS = 5000;

const REST_MS = 1500;
const waiting = new Map<string, ReturnType<typeof setTimeout>>();

/** Asks for a project anew once nothing was told of it for a while. */
function refreshLater(client: QueryClient, project: string): void {
  clearTimeout(waiting.get(project));
  const timer = setTimeout(() => void client.invalidateQueries({ queryKey: ["project", project] }), REST_MS);
  waiting.set(project, timer);
}

/** Listens to the server and refreshes what its events say has changed. */
export function ServerEvents() {
  const client = useQueryClient();
  const signedOut = useSignedOut((state) => state.signedOut);
  const [tries, tryAgain] = useReducer((count: number) => count + 1, 0);
  useEffect(() => {
    if (signedOut) return;
    let timer: ReturnType<typeof setTimeout>;
    const events = new EventSource("/api/events");
    events.onopen = () => {
      useJobProgress.setState({ connected: true });
      void client.invalidateQueries(); // whatever was missed
    };
    events.onerror = () => {
      useJobProgress.setState({ connected: false });
      if (events.readyState !== EventSource.CLOSED) return; // goes on by itself
      // Refused: whoever was signed out is told so by any other request.
      void api("GET /api/me").catch(() => undefined);
      timer = setTimeout(tryAgain, REFUSED_MS);
    };
    events.onmessage = ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as ServerEvent;
      if (event.topic === "project") {
        const { project, head } = event;
        // An own edit is told here as well, often before its answer is there.
        void settled(project).then(() => {
          const known = client.getQueryData<ProjectView>(["project", project]);
          if (head !== undefined && known?.head === head) return;
          const after = known && head !== undefined && event.edit ? afterEdit(known, head, event.edit) : null;
          if (after) client.setQueryData(["project", project], after);
          // What was measured of it meanwhile is asked for once it rests.
          if (after) refreshLater(client, project);
          else void client.invalidateQueries({ queryKey: ["project", project] });
        });
        void client.invalidateQueries({ queryKey: ["history", event.project] });
        void client.invalidateQueries({ queryKey: ["projects"] });
        return;
      }
      if (event.topic === "presence") {
        // Of the project that this page has open.
        if (client.getQueryState(["project", event.project])) receivePresence(event.presence);
        return;
      }
      if (event.topic === "contradiction") {
        if (client.getQueryState(["project", event.project])) tellRefusedEdit(event.refused);
        return;
      }
      if (event.topic === "comments") return void client.invalidateQueries({ queryKey: ["comments", event.project] });
      if (event.topic === "review") {
        void client.invalidateQueries({ queryKey: ["reviews", event.project] });
        return void client.invalidateQueries({ queryKey: ["project", event.project] });
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
    return () => {
      clearTimeout(timer);
      events.close();
    };
  }, [client, signedOut, tries]);
  return null;
}
