"use client";

import { counted } from "@core/audio/format";
import { ClipboardCopy, ClipboardPaste, Trash2 } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { MARKER_KINDS, type Marker, type MarkerKind } from "@core/project/document";
import {
  MARKER_STYLES,
  markersToCsv,
  markersToText,
  parseMarkers,
  placeMarkers,
  type PlacedMarker,
} from "@ui/state/markers";
import { Select } from "@ui/design-system/controls";
import { around } from "@ui/state/time-window";
import { useTimeFormatter } from "@ui/state/use-time-format";
import { Button } from "@ui/design-system/button";
import { IconButton } from "@ui/design-system/icon-button";
import { saveAs } from "@ui/api/save-as";
import { SearchField } from "@ui/design-system/search-field";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useWorkspace } from "../state/workspace-store";
import { itemFrame } from "../state/item-time";
import { useCurrentItem, type ItemFacts } from "../state/current-item";
import { engine } from "../state/listening-engine";
import { newId } from "../api/use-project";

/** All markers of the item: found, named, gone to, taken away; in from text, out as text. */
export function MarkersPanel() {
  const open = useWorkspace((workspace) => workspace.dialog === "markers");
  const { facts } = useCurrentItem();
  return (
    <SheetDialog
      side
      open={open && facts !== null}
      onClose={() => useWorkspace.setState({ dialog: null })}
      title="Markers"
      help="T sets one at the playhead, also while it plays; V sets one over the selection."
    >
      {facts && <Markers facts={facts} />}
    </SheetDialog>
  );
}

type Shown = MarkerKind | "all kinds";

function Markers({ facts }: { facts: ItemFacts }) {
  const [search, setSearch] = useState("");
  const [kind, setKind] = useState<Shown>("all kinds");
  const { edit } = useCurrentItem();
  const { markers, id: item } = facts.item;
  const placed = useMemo(() => placeMarkers(markers, facts), [markers, facts]);
  const cutOut = markers.length - placed.length;
  const shown = placed.filter(
    (marker) =>
      (kind === "all kinds" || marker.kind === kind) && marker.name.toLowerCase().includes(search.trim().toLowerCase()),
  );
  return (
    <>
      <div className="mb-2 flex items-center gap-2">
        <SearchField label="Find a marker" words={search} onChange={setSearch} className="h-7 flex-1" />
        <Select
          label="Kind of marker"
          value={kind}
          options={["all kinds", ...MARKER_KINDS] as Shown[]}
          onChange={setKind}
        />
      </div>
      <Exchange facts={facts} shown={shown} />
      {cutOut > 0 && (
        <p className="pb-1 text-label text-soft">
          {counted(cutOut, "marker")} {cutOut === 1 ? "lies" : "lie"} in what is cut out, and{" "}
          {cutOut === 1 ? "is" : "are"} there again when a cut is opened.
        </p>
      )}
      {shown.length === 0 ? (
        <p className="py-4 text-soft">
          {markers.length === 0 ? "There is no marker yet." : "No marker is like that; there are others."}
        </p>
      ) : (
        <>
          <ul data-testid="markers">
            {shown.map((marker) => (
              <MarkerRow key={marker.id} placed={marker} facts={facts} />
            ))}
          </ul>
          <Button
            className="mt-2"
            onClick={() => void edit({ type: "removeMarkers", item, markers: shown.map(({ id }) => id) })}
          >
            <Trash2 size={13} /> Remove {shown.length === 1 ? "this one" : `these ${shown.length}`}
          </Button>
        </>
      )}
    </>
  );
}

function MarkerRow({ placed, facts }: { placed: PlacedMarker; facts: ItemFacts }) {
  const { seconds, endSeconds: end, ...marker } = placed;
  const { edit } = useCurrentItem();
  const words = useTimeFormatter(facts);
  const { duration, item } = facts;
  const look = MARKER_STYLES[marker.kind];
  const change = (next: Partial<Marker>) =>
    void edit({ type: "setMarker", item: item.id, marker: { ...marker, ...next } });
  const go = () => {
    const span = end === null ? Math.min(4, duration) : end - seconds;
    useWorkspace.setState({
      cursor: seconds,
      selection: end === null ? null : { start: seconds, end },
      view: around({ start: Math.max(0, seconds - span), end: Math.min(duration, seconds + 2 * span) }, duration),
    });
    engine().seek(itemFrame(facts, seconds));
  };
  return (
    <li className="grid grid-cols-[16px_auto_1fr_auto_auto] items-center gap-1.5 border-b border-grid py-1">
      <span aria-hidden style={{ color: look.ink }}>
        {look.sign}
      </span>
      <button type="button" onClick={go} className="figure text-label text-act hover:underline" title="Goes there">
        {words(seconds)}
        {end !== null && ` +${(end - seconds).toFixed(2)} s`}
      </button>
      <input
        aria-label={`Name of the marker at ${words(seconds)}`}
        defaultValue={marker.name}
        key={marker.name}
        placeholder={look.words}
        maxLength={200}
        onBlur={(event) => event.target.value.trim() !== marker.name && change({ name: event.target.value.trim() })}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="h-6 min-w-0 border-b border-transparent bg-transparent px-1 hover:border-hair"
      />
      <Select
        label={`Kind of the marker at ${words(seconds)}`}
        value={marker.kind}
        options={MARKER_KINDS}
        onChange={(kind) => change({ kind })}
      />
      <IconButton
        label={`Remove the marker at ${words(seconds)}`}
        onClick={() => void edit({ type: "removeMarkers", item: item.id, markers: [marker.id] })}
      >
        <Trash2 size={12} />
      </IconButton>
    </li>
  );
}

function Exchange({ facts, shown }: { facts: ItemFacts; shown: PlacedMarker[] }) {
  const { edit } = useCurrentItem();
  const file = useRef<HTMLInputElement>(null);
  const { item } = facts;
  const take = (text: string, from: string) => {
    const { markers, problems } = parseMarkers(text, facts);
    if (problems.length > 0)
      toast.error(`Left out of ${from}: ${counted(problems.length, "line")}`, {
        description: problems.slice(0, 3).join(" "),
      });
    if (markers.length === 0) {
      if (problems.length === 0)
        toast.error(`${from} holds no markers`, {
          description: "Lines of a time and a name are read, and CSV with start, end, kind, name.",
        });
      return;
    }
    void edit({ type: "addMarkers", item: item.id, markers: markers.map((marker) => ({ ...marker, id: newId() })) });
  };
  const clipboard = async (work: (board: Clipboard) => Promise<void>) => {
    try {
      await work(navigator.clipboard);
    } catch {
      toast.error("The clipboard cannot be reached", {
        description: "The browser did not allow it; files can be exported and imported.",
      });
    }
  };
  return (
    <div className="mb-2 flex flex-wrap gap-1">
      <Button
        onClick={() => saveAs(`${item.name} markers.csv`, "text/csv", markersToCsv(shown))}
        disabled={shown.length === 0}
      >
        CSV
      </Button>
      <Button
        onClick={() => saveAs(`${item.name} markers.txt`, "text/plain", markersToText(shown))}
        disabled={shown.length === 0}
      >
        Text
      </Button>
      <Button
        disabled={shown.length === 0}
        onClick={() =>
          void clipboard(async (board) => {
            await board.writeText(markersToText(shown));
            toast(`On the clipboard: ${counted(shown.length, "marker")}`);
          })
        }
      >
        <ClipboardCopy size={13} /> Copy
      </Button>
      <Button
        onClick={() => file.current?.click()}
        hint="CSV with start, end, kind, name; or lines of a time and a name"
      >
        Import …
      </Button>
      <Button onClick={() => void clipboard(async (board) => take(await board.readText(), "the clipboard"))}>
        <ClipboardPaste size={13} /> Paste
      </Button>
      <input
        ref={file}
        type="file"
        hidden
        accept=".csv,.txt,text/csv,text/plain"
        aria-label="Markers to import"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) void chosen.text().then((text) => take(text, chosen.name));
        }}
      />
    </div>
  );
}
