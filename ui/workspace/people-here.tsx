"use client";

import { Play } from "lucide-react";
import { formatTime } from "@core/audio/format";
import { Hint } from "@ui/design-system/hint";
import { useCurrentItem } from "../state/current-item";
import { usePresence } from "../api/presence";
import { useFollowing, usePresenceTold } from "../state/presence";

/** Who else is in the project, where, and whether they listen; pressed, their view is gone along with. */
export function PeopleHere() {
  const { view } = useCurrentItem();
  usePresenceTold(view.id);
  useFollowing();
  const others = usePresence((state) => state.others);
  const followed = usePresence((state) => state.followed);
  const here = Object.values(others).map(({ presence }) => presence);
  if (here.length === 0) return null;
  return (
    <ul aria-label="Who else is here" className="flex max-h-40 flex-col overflow-y-auto border-t border-hair">
      {here.map(({ page, name, stage, item, seconds, playing }) => {
        const at = view.document.items.find(({ id }) => id === item)?.name;
        const where = `${stage}${at ? `, “${at}” at ${formatTime(seconds)}` : ""}`;
        const isFollowed = page === followed;
        return (
          <li key={page}>
            <Hint
              text={`${name}: ${where}. ${isFollowed ? "You go along; press to stop." : "Press to go along with their view and what they play."}`}
            >
              <button
                type="button"
                aria-pressed={isFollowed}
                onClick={() => usePresence.setState({ followed: isFollowed ? null : page })}
                className={`block w-full px-3 py-1 text-left text-label ${isFollowed ? "bg-act-ground text-act" : "hover:bg-act-ground/60"}`}
              >
                <span className="flex items-center gap-1">
                  <span className="truncate font-semibold">{name}</span>
                  {playing && <Play size={10} aria-label="listens" className="shrink-0" />}
                </span>
                <span className="block truncate text-soft">
                  {stage}
                  {at ? ` · ${at}` : ""}
                </span>
              </button>
            </Hint>
          </li>
        );
      })}
    </ul>
  );
}
