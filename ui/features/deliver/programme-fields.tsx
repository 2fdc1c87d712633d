"use client";

import { MAIN_MIX, PROGRAMME_FORMS, type Deliverable, type ProjectDocument } from "@core/project/document";
import { SelectField } from "@ui/design-system/controls";

type Form = NonNullable<Deliverable["programme"]>;

export const FORM_WORDS: Readonly<Record<Form, string>> = {
  "one file": "the programme as one file",
  "item files": "the programme, in files that join",
  both: "the programme, and files that join",
  "marked stretches": "stretches of its markers, a file each",
};

const ITEMS = "items";
const IN_FORCE = "";

/** Names of all mixes that items of a project have. */
export const mixNames = ({ items }: Pick<ProjectDocument, "items">): string[] => [
  ...new Set([MAIN_MIX, ...items.flatMap(({ mixes }) => mixes?.map(({ name }) => name) ?? [])]),
];

interface Props extends Pick<Deliverable, "programme" | "mix"> {
  document: ProjectDocument;
  onChange: (what: Pick<Deliverable, "programme" | "mix">) => void;
}

/** What a deliverable is made of: items by themselves or the programme, and which mix of them. */
export function ProgrammeFields({ document, programme, mix, onChange }: Props) {
  const names = mixNames(document);
  return (
    <div className="mt-2 flex gap-3">
      <SelectField
        label="Made of"
        value={programme ?? ITEMS}
        options={{ [ITEMS]: "each item by itself", ...FORM_WORDS }}
        onChange={(value) => {
          const form = PROGRAMME_FORMS.find((one) => one === value);
          onChange({ ...(form ? { programme: form } : {}), ...(mix ? { mix } : {}) });
        }}
      />
      {programme === "marked stretches" && document.programme.markers.length === 0 && (
        <p className="self-end pb-1 text-label text-close">
          ◆ The programme has no markers yet: N sets one at the playhead, in Sequence.
        </p>
      )}
      {(names.length > 1 || mix) && (
        <SelectField
          label="Mix"
          value={mix ?? IN_FORCE}
          options={{ [IN_FORCE]: "the one in force", ...Object.fromEntries(names.map((name) => [name, name])) }}
          onChange={(value) => onChange({ ...(programme ? { programme } : {}), ...(value ? { mix: value } : {}) })}
        />
      )}
    </div>
  );
}
