// `npm run bench -- seats [MINUTES]`: twenty clients edit one project at the same time, as their pages do, for a minute unless
// said: that every edit which was acknowledged is there, and how long after it was sent another seat has the project with it.
import { randomUUID } from "node:crypto";
import { inRoot } from "../paths.mjs";
import { discardData } from "../postgres.mjs";
import { withStudio } from "../test.mjs";
import { percentile } from "./frames.mjs";

const SEATS = 20;
/** A person at work changes something about so often. */
const PAUSE_MS = 5000;
const WANTED_MS = 300;
/** When a page asks for the whole again. */
const REST_MS = 1500;

const json = async (address, path, method = "GET", body) => {
  const answer = await fetch(`${address}/api/${path}`, {
    method,
    ...(body ? { body: JSON.stringify(body), headers: { "content-type": "application/json" } } : {}),
  });
  return { status: answer.status, body: answer.status === 204 ? null : await answer.json() };
};

/** What a page does with events: fetches the project anew, once at a time, and once more where it was told meanwhile. */
async function* eventsOf(address, signal) {
  const { body } = await fetch(`${address}/api/events`, { signal });
  let text = "";
  for await (const chunk of body.pipeThrough(new TextDecoderStream())) {
    text += chunk;
    const lines = text.split("\n\n");
    text = lines.pop();
    for (const line of lines) if (line.startsWith("data: ")) yield JSON.parse(line.slice(6));
  }
}

function seat(address, project, sentAt, told, signal) {
  let head = 0;
  let fetching = false;
  let again = false;
  let timer;
  const arrived = (id) => {
    if (told.missing.delete(id)) told.times.push(performance.now() - sentAt.get(id));
  };
  const refresh = async () => {
    if (fetching) return void (again = true);
    fetching = true;
    do {
      again = false;
      const { body } = await json(address, `projects/${project}`);
      if (!body?.document) continue;
      head = body.head;
      for (const { id } of body.document.programme.markers) arrived(id);
    } while (again);
    fetching = false;
  };
  const listening = (async () => {
    for await (const event of eventsOf(address, signal)) {
      if (event.topic !== "project") continue;
      // As `ui/api/server-events.tsx`: an edit on the state that is known is put on it, and all else asked for.
      if (event.edit?.parent !== head) void refresh();
      else {
        head = event.head;
        for (const { id } of event.edit.command.markers) arrived(id);
        clearTimeout(timer);
        timer = setTimeout(() => void refresh(), REST_MS);
      }
    }
  })().catch(() => undefined);
  return { refresh, listening, head: () => head };
}

/** @param minutes that they work */
export async function seats(minutes = 1) {
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address) => {
    const { id: project } = (await json(address, "projects", "POST", { name: "Seats", template: "music" })).body;
    const sentAt = new Map();
    const acknowledged = [];
    const stop = new AbortController();
    const all = Array.from({ length: SEATS }, () => ({ missing: new Set(), times: [] }));
    const clients = all.map((told) => seat(address, project, sentAt, told, stop.signal));
    await Promise.all(clients.map(({ refresh }) => refresh()));
    const end = Date.now() + minutes * 60_000;
    let refused = 0;
    await Promise.all(
      clients.map(async (client, index) => {
        await new Promise((resolve) => setTimeout(resolve, (index * PAUSE_MS) / SEATS));
        while (Date.now() < end) {
          const marker = { id: randomUUID().slice(0, 8), name: `seat ${index}`, start: index };
          sentAt.set(marker.id, performance.now());
          for (const [other, { missing }] of all.entries()) if (other !== index) missing.add(marker.id);
          const command = { type: "addProgrammeMarkers", markers: [marker] };
          const body = { id: randomUUID(), base: client.head(), command };
          const { status } = await json(address, `projects/${project}/commands`, "POST", body);
          if (status === 200) acknowledged.push(marker.id);
          else refused++;
          await new Promise((resolve) => setTimeout(resolve, PAUSE_MS * (0.75 + Math.random() / 2)));
        }
      }),
    );
    await new Promise((resolve) => setTimeout(resolve, 3000));
    stop.abort();
    const { body } = await json(address, `projects/${project}`);
    const there = new Set(body.document.programme.markers.map(({ id }) => id));
    const lost = acknowledged.filter((id) => !there.has(id));
    const times = all.flatMap((told) => told.times).sort((a, b) => a - b);
    const late = all.reduce((sum, { missing }) => sum + [...missing].filter((id) => there.has(id)).length, 0);
    const at = (part) => Math.round(percentile(times, part));
    console.log(
      `${SEATS} seats, ${minutes} min: ${acknowledged.length} edits acknowledged, ${lost.length} of them lost (0), ${refused} refused; ` +
        `another seat has one after ${at(0.5)} ms (median), ${at(0.95)} ms (95 %; ${WANTED_MS}), ${at(1)} ms at most; ${late} never told`,
    );
    if (lost.length > 0) process.exitCode = 1;
  });
}
