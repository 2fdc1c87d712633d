"use client";

import { useMemo, useState } from "react";
import { toast } from "sonner";
import { prettifyError } from "zod";
import {
  itemAboutSchema,
  projectAboutSchema,
  type Item,
  type ItemAbout,
  type ProjectAbout,
} from "@core/project/document";
import { masterNames, NAME_TOKENS, unknownTokens } from "@core/project/filename-pattern";
import { ComplianceMark } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "@ui/state/current-item";
import { CoverPicker } from "./cover-picker";
import { ItemNotes } from "./item-notes";
import { KeptText } from "./kept-text";

/** What masters say of themselves, and what their files are called. */
export function FileNamesView() {
  const { view } = useCurrentItem();
  if (view.document.items.length === 0)
    return <p className="p-4 text-soft">There is nothing to name yet: drop a recording first.</p>;
  return (
    <div className="grid grid-cols-[minmax(0,2fr)_minmax(270px,1fr)] gap-6 px-4 py-2">
      <div>
        <Whole />
        <Items />
      </div>
      <FileNames />
    </div>
  );
}

const WHOLE: [keyof Omit<ProjectAbout, "cover" | "report">, string, string][] = [
  ["title", "Title of the whole", "the project's name"],
  ["artist", "Artist, author or speaker", ""],
  ["publisher", "Publisher or label", ""],
  ["genre", "Genre", ""],
  ["date", "Date", "2026 or 2026-11-26"],
  ["catalogue", "Catalogue number", ""],
  ["barcode", "Barcode", "12 or 13 digits"],
  ["comment", "Comment", ""],
];

function Whole() {
  const { view, edit } = useCurrentItem();
  const { about } = view.document;
  const keep = (change: Partial<ProjectAbout>) => {
    const parsed = projectAboutSchema.safeParse({ ...about, ...change });
    if (!parsed.success) return void toast.error("Not kept", { description: prettifyError(parsed.error) });
    void edit({ type: "describeProject", about: parsed.data });
  };
  return (
    <section className="grid grid-cols-[104px_minmax(0,1fr)] gap-3">
      <div>
        <h2 className="mb-1 text-label text-soft">Cover</h2>
        <CoverPicker
          label="Cover"
          cover={about.cover}
          className="size-26"
          words="JPEG or PNG"
          onPick={(cover) => keep({ cover })}
        />
      </div>
      <table className="w-full">
        <tbody>
          {WHOLE.map(([name, label, hint]) => (
            <tr key={name} className="border-b border-grid">
              <th scope="row" className="w-44 text-left font-normal text-soft">
                {label}
              </th>
              <td>
                <KeptText
                  label={label}
                  value={about[name]}
                  placeholder={hint}
                  onKeep={(value) => keep({ [name]: value })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const ITEM: [keyof Omit<ItemAbout, "cover" | "comment">, string, string][] = [
  ["artist", "artist", "as the whole"],
  ["composer", "composer", ""],
  ["isrc", "ISRC", ""],
];

function Items() {
  const { view } = useCurrentItem();
  return (
    <table className="mt-3 w-full table-fixed">
      <thead className="text-left text-label text-soft">
        <tr className="border-b border-hair">
          <th className="w-7 font-normal">no.</th>
          <th className="w-[25%] font-normal">title</th>
          {ITEM.map(([name, label]) => (
            <th key={name} className={name === "isrc" ? "w-28 font-normal" : "font-normal"}>
              {label}
            </th>
          ))}
          <th className="w-11 text-center font-normal" title="Of an episode, where they are not those of the whole">
            notes
          </th>
          <th className="w-11 text-center font-normal" title="Where it is not that of the whole">
            cover
          </th>
          <th className="w-14 text-right font-normal">chapters</th>
        </tr>
      </thead>
      <tbody>
        {view.document.items.map((item, index) => (
          <ItemRow key={item.id} item={item} index={index} />
        ))}
      </tbody>
    </table>
  );
}

const NOTHING: ItemAbout = itemAboutSchema.parse({});

function ItemRow({ item, index }: { item: Item; index: number }) {
  const { edit } = useCurrentItem();
  const about = item.about ?? NOTHING;
  const keep = (change: Partial<ItemAbout>) => {
    const parsed = itemAboutSchema.safeParse({ ...about, ...change });
    if (!parsed.success) return void toast.error("Not kept", { description: prettifyError(parsed.error) });
    void edit({ type: "describeItem", item: item.id, about: parsed.data });
  };
  return (
    <tr className="border-b border-grid">
      <td className="figure text-soft">{index + 1}</td>
      <td>
        <KeptText
          label={`Title of item ${index + 1}`}
          value={item.name}
          onKeep={(name) => name.trim() && void edit({ type: "renameItem", item: item.id, name })}
        />
      </td>
      {ITEM.map(([name, label, hint]) => (
        <td key={name}>
          <KeptText
            label={`${label} of item ${index + 1}`}
            value={about[name]}
            placeholder={hint}
            onKeep={(value) => keep({ [name]: value })}
          />
        </td>
      ))}
      <td className="text-center align-middle">
        <ItemNotes label={`Notes of item ${index + 1}`} value={about.comment} onKeep={(comment) => keep({ comment })} />
      </td>
      <td className="align-middle">
        <CoverPicker
          label={`Cover of item ${index + 1}`}
          cover={about.cover}
          className="mx-auto size-5"
          onPick={(cover) => keep({ cover })}
        />
      </td>
      <td className="figure text-right">{item.markers.filter(({ kind }) => kind === "chapter").length || "—"}</td>
    </tr>
  );
}

function FileNames() {
  const { view, edit } = useCurrentItem();
  const { document } = view;
  const [typed, setTyped] = useState<string | null>(null);
  const pattern = typed ?? document.naming;
  const names = useMemo(() => masterNames({ ...document, naming: pattern || document.naming }), [document, pattern]);
  const unknown = unknownTokens(pattern);
  const keep = () => {
    if (typed !== null && typed.trim() && typed !== document.naming) void edit({ type: "setNaming", naming: typed });
    setTyped(null);
  };
  return (
    <section data-testid="names">
      <h2 className="mb-1 text-label text-soft">Names of files</h2>
      <input
        aria-label="Pattern of file names"
        className="h-7 w-full rounded-[4px] border border-hair bg-sheet px-2 outline-none focus:border-act"
        value={pattern}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <p className="mt-1 text-label text-soft">
        {NAME_TOKENS.map(({ token, help }) => (
          <button
            key={token}
            type="button"
            title={help}
            className="figure mr-1.5 text-act hover:underline"
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => {
              const naming = `${pattern} {${token}}`;
              setTyped(null);
              void edit({ type: "setNaming", naming });
            }}
          >
            {`{${token}}`}
          </button>
        ))}
      </p>
      {unknown.length > 0 && (
        <p className="mt-1 text-label text-outside">
          ▲ {unknown.map((token) => `{${token}}`).join(", ")} means nothing.
        </p>
      )}
      {names.some(({ clashes }) => clashes) && (
        <p role="alert" className="mt-1 text-label text-close">
          ◆ Some names come up more than once, so those that come later get a number. Put {"{spec}"}, {"{format}"} or{" "}
          {"{track}"} into the pattern.
        </p>
      )}
      <ol className="mt-2">
        {names.map(({ item, deliverable, name, clashes }) => (
          <li
            key={`${item.id}-${deliverable.id}`}
            className="flex h-[22px] items-center gap-2 border-b border-grid"
            title={name}
          >
            <ComplianceMark status={clashes ? "marginal" : "pass"} />
            <span className="truncate">{name}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
