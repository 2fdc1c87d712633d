/** What masters say of themselves: titles, people, codes and chapters. */
import { EditList } from "../edit-list/edit-list";
import { newTags, type Tags } from "../files/tags";
import { titlesOf } from "../programme/cuts";
import type { Timeline } from "../programme/timeline";
import type { Item, ProjectDocument } from "./document";
import type { KnownRecording } from "./known-recordings";
import { titleNumber } from "./subjects";

type Project = Pick<ProjectDocument, "about" | "items" | "name">;

/** What a programme says of itself: its titles are its chapters. */
export function programmeTags(project: Project, timeline: Timeline): Tags {
  const { about, name, items } = project;
  const titles = new Map(items.map((item) => [item.id, item.name]));
  return newTags({
    title: about.title || name,
    artist: about.artist,
    album: about.title || name,
    albumArtist: about.artist,
    publisher: about.publisher,
    genre: about.genre,
    date: about.date,
    barcode: about.barcode,
    catalogue: about.catalogue,
    comment: about.comment,
    chapters: titlesOf(timeline, items).map(({ item, start }) => ({
      title: titles.get(item)!,
      startSeconds: start / timeline.sampleRate,
    })),
  });
}

/** What the master of an item says of itself. How many items there are is not among it: another one changes no master. */
export function tagsOf(project: Project, item: Item, { sampleRate, frames, startSeconds }: KnownRecording): Tags {
  const { about, name } = project;
  const arrangement = EditList.of(item.clips, frames);
  const chapters = item.markers
    .filter(({ kind }) => kind === "chapter")
    .flatMap(({ name: title, start }) => {
      const at = arrangement.toItem(start);
      return at === null ? [] : [{ title, startSeconds: at / sampleRate }];
    })
    .sort((a, b) => a.startSeconds - b.startSeconds);
  return newTags({
    title: item.name,
    artist: item.about?.artist || about.artist,
    album: about.title || name,
    albumArtist: about.artist,
    composer: item.about?.composer ?? "",
    publisher: about.publisher,
    genre: about.genre,
    date: about.date,
    isrc: item.about?.isrc ?? "",
    barcode: about.barcode,
    catalogue: about.catalogue,
    comment: item.about?.comment || about.comment,
    track: titleNumber(project, item),
    chapters,
    ...(startSeconds ? { startSeconds: startSeconds + arrangement.toRecording(0) / sampleRate } : {}),
  });
}
