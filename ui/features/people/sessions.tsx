"use client";

import { useQueryClient } from "@tanstack/react-query";
import { formatDistanceToNowStrict } from "date-fns";
import type { SessionView } from "@core/people/views";
import { api } from "@ui/api/api";
import { told } from "@ui/api/told";
import { Button } from "@ui/design-system/button";

const SYSTEMS = ["Windows", "Mac OS", "Android", "iPhone", "iPad", "Linux"];

/** As much of what a browser says of itself as tells devices apart: its family and its system. */
export function deviceWords(agent: string | null): string {
  if (!agent) return "a program";
  const system = SYSTEMS.find((name) => agent.includes(name)) ?? "another system";
  return /Mobile/.test(agent) ? `a phone, ${system}` : `a browser, ${system}`;
}

/** Devices that somebody is signed in on, each of which can be signed out. */
export function Sessions({ sessions }: { sessions: readonly SessionView[] }) {
  const client = useQueryClient();
  const end = async (id: string) => {
    await api("DELETE /api/account/sessions/{session}", { params: { session: id } });
    await client.invalidateQueries({ queryKey: ["sessions"] });
  };
  return (
    <table className="w-full border border-hair bg-sheet" data-testid="sessions">
      <tbody>
        {sessions.map(({ id, agent, address, created_at: since, seen_at: seen, current }) => (
          <tr key={id} className="border-t border-grid first:border-t-0">
            <td className="py-1.5 pl-3" title={agent ?? undefined}>
              {deviceWords(agent)}
              {current && <span className="text-label text-soft"> this one</span>}
            </td>
            <td className="figure">{address ?? "–"}</td>
            <td className="text-soft">signed in {formatDistanceToNowStrict(new Date(since))} ago</td>
            <td className="text-soft">used {formatDistanceToNowStrict(new Date(seen))} ago</td>
            <td className="pr-2 text-right">
              {!current && (
                <Button kind="quiet" onClick={() => told(end(id), "The device is still signed in")}>
                  Sign out
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
