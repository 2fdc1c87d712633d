/**
 * A made-up project with one item in hand, for tests of components that stand in a workspace. Figures are measured on
 * made-up sound, and edits are applied to the document as the page does it.
 */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, render } from "@testing-library/react";
import { Tooltip } from "radix-ui";
import { useEffect, useState, type ReactElement, type ReactNode } from "react";
import { layoutForChannels } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";
import { EditList } from "@core/edit-list/edit-list";
import { Measurer } from "@core/measure";
import { applyCommand, type Command } from "@core/project/commands";
import { deliverableInForce, specOf, type Item, type ProjectDocument } from "@core/project/document";
import { newProject, type TemplateId } from "@core/project/templates";
import type { ProjectView, Source } from "@core/project/views";
import { predictNow } from "@core/delivery/predict-chain";
import { noise } from "@core/testing/signals";
import { CurrentItemContext, type CurrentItem, type ItemFacts } from "@ui/state/current-item";
import { ProgrammeProvider } from "@ui/state/programme";
import type { ItemWaveform } from "@ui/state/item-waveform";
import { useWorkspace } from "@ui/state/workspace-store";

export const RATE = 48_000;
export const SECONDS = 6;
export const PROJECT = "00000000-0000-4000-8000-000000000001";
const HASH = "a".repeat(64);

const newClient = () => new QueryClient({ defaultOptions: { queries: { retry: false } } });

/** What every component of the page stands in. */
function Page({ client: given, children }: { client?: QueryClient; children: ReactNode }) {
  const [client] = useState(() => given ?? newClient());
  return (
    <QueryClientProvider client={client}>
      <Tooltip.Provider delayDuration={0}>{children}</Tooltip.Provider>
    </QueryClientProvider>
  );
}

export const show = (element: ReactElement) => render(element, { wrapper: Page });

/** Steady noise with two seconds that are 12 dB louder: there is something to measure, to find and to treat. */
export function programme(channels = 1): Planar {
  return Array.from({ length: channels }, (_, channel) => {
    const x = noise(SECONDS, RATE, -24, channel + 1);
    for (let i = 2 * RATE; i < 4 * RATE; i++) x[i]! *= 4;
    return x;
  });
}

function measured(block: Planar) {
  const layout = layoutForChannels(block.length);
  const measurer = new Measurer({ sampleRate: RATE, layout });
  measurer.process(block);
  return { ...measurer.result(), layout };
}

type Place = Extract<Command, { type: "placeItems" }>["items"][number]["changes"];

/** An item put to its place in the programme. */
export const place = (item: string, changes: Place): Command => ({
  type: "placeItems",
  items: [{ item, changes }],
  what: "place",
});

/** A recording whose curves are known, as if they had been fetched. */
export const OVERVIEW = { source: { overview_hash: "c".repeat(64) } };

/** What is measured of the made-up sound. */
export const measuredFigures = (channels = 1) => measured(programme(channels)).figures;

function sourceOf(block: Planar): Source {
  const { figures, layout } = measured(block);
  return {
    hash: HASH,
    name: "Low Door.wav",
    bytes: 4 * RATE * SECONDS,
    state: "ready",
    problem: null,
    container: "WAV",
    encoding: "32-bit float",
    bits: null,
    layout,
    layout_chosen: false,
    pcm_hash: "b".repeat(64),
    overview_hash: null,
    figures,
    events: null,
    warnings: [],
    start_seconds: null,
    tracks: null,
    track: 0,
    created_at: "2026-01-01T00:00:00Z",
  };
}

interface Options {
  template?: TemplateId;
  channels?: number;
  /** How many items the project has, all of one recording. */
  items?: number;
  /** Changes the document before anything is shown. */
  prepare?: Command[];
  /** What else the server says of the project. */
  view?: Partial<ProjectView>;
  /** What is different of the recording. */
  source?: Partial<Source>;
}

/** A workspace around `children`; `edits` are all that were made, `document()` is what came of them; `arrive` is another's edit. */
export function inWorkspace(children: ReactNode, options: Options = {}) {
  const { template = "audiobook", channels = 1, items = 1, prepare = [] } = options;
  const block = programme(channels);
  const source = { ...sourceOf(block), ...options.source };
  const { curves } = measured(block);
  const figures = source.figures!;
  const client = newClient();
  // Curves of the recording's overview, as if they had been fetched.
  if (source.overview_hash) client.setQueryData(["curves", source.overview_hash], curves);
  const added = Array.from({ length: items }, (_, index): Command => ({
    type: "addSource",
    source: { hash: HASH, name: source.name },
    item: {
      id: `item-${index + 1}`,
      source: HASH,
      name: items === 1 ? "Low Door" : `Chapter ${index + 1}`,
      repairs: [],
      chain: [],
      markers: [],
    },
  }));
  let document = [...added, ...prepare].reduce<ProjectDocument>(applyCommand, newProject("Orchard at Dusk", template));
  const edits: Command[] = [];
  const others = new Set<(next: ProjectDocument) => void>();

  function Workspace() {
    const [shown, setShown] = useState(document);
    useEffect(() => void others.add(setShown), []);
    const inHand = useWorkspace((workspace) => workspace.item);
    const item: Item | null = shown.items.find(({ id }) => id === inHand) ?? shown.items[0] ?? null;
    const editList = EditList.of(item?.clips, figures.frames);
    const facts: ItemFacts | null = item && {
      item,
      source,
      editList,
      duration: editList.frames / RATE,
      sampleRate: RATE,
      // Nothing is drawn in a document without a browser.
      overview: { channels } as ItemWaveform,
      figures,
      curves,
      originalLufs: figures.integratedLufs,
      estimated: false,
      knownLevels: null,
    };
    const deliverable = deliverableInForce(shown) ?? null;
    const chain = [...(item?.chain ?? []), ...shown.chain];
    const current: CurrentItem = {
      view: { ...viewOf(shown, source), ...options.view },
      edit: (command) => {
        edits.push(command);
        document = applyCommand(document, command);
        setShown(document);
        return Promise.resolve();
      },
      item,
      source,
      facts,
      waveform: null,
      chain,
      predictable: { figures, curves, known: null },
      chainFigures: predictNow(figures, curves, chain),
      chainMeasured: true,
      chainCurves: curves,
      reductions: null,
      deliverable,
      spec: deliverable ? specOf(shown, deliverable.spec) : null,
      onArrival: () => () => undefined,
      notifyArrival: () => undefined,
    };
    return (
      <CurrentItemContext.Provider value={current}>
        <ProgrammeProvider isHeard>{children}</ProgrammeProvider>
      </CurrentItemContext.Provider>
    );
  }

  useWorkspace.setState({ ...useWorkspace.getInitialState(), item: "item-1" });
  const shown = render(<Workspace />, { wrapper: ({ children: page }) => <Page client={client}>{page}</Page> });
  const arrive = (command: Command) =>
    act(() => {
      document = applyCommand(document, command);
      others.forEach((show) => show(document));
    });
  return { ...shown, edits, arrive, document: () => document };
}

const viewOf = (document: ProjectDocument, source: Source): ProjectView => ({
  id: PROJECT,
  role: "edit",
  head: 1,
  document,
  undo: null,
  redo: null,
  states: 1,
  savedAt: "2026-01-01T00:00:00Z",
  sources: [source],
  masters: [],
  itemFigures: [],
  overshoots: [],
  uploads: [],
  jobs: [],
  submissions: [],
  automatic: [],
  approvals: [],
});
