"use client";

import { Pencil } from "lucide-react";
import { useState } from "react";
import { PAPERS, PLAIN_HEAD, type Paper, type ReportHead } from "@core/project/report-head";
import { Select } from "@ui/design-system/controls";
import { SheetDialog } from "@ui/design-system/sheet-dialog";
import { useCurrentItem } from "@ui/state/current-item";
import { CoverPicker } from "./cover-picker";
import { KeptText } from "./kept-text";

const LINES: [keyof Pick<ReportHead, "studio" | "contact" | "engineer" | "client">, string, string, number?][] = [
  ["studio", "Studio", "whose report it is"],
  ["contact", "Address", "lines below the studio’s name", 3],
  ["engineer", "Engineer", "who made the masters"],
  ["client", "Client", "for whom, in this project"],
];

/** What stands at the head of the reports, in a line, and the way to change it. */
export function ReportHeadLine() {
  const { view } = useCurrentItem();
  const [isOpen, setOpen] = useState(false);
  const { studio, client, engineer, paper } = view.document.about.report ?? PLAIN_HEAD;
  const parts = [studio || "no studio", ...(engineer ? [engineer] : []), ...(client ? [`for ${client}`] : []), paper];
  return (
    <p className="flex items-center gap-2 border-b border-grid py-1 text-label text-soft">
      <span className="truncate" title={parts.join(" · ")}>
        head of the reports: {parts.join(" · ")}
      </span>
      <button
        type="button"
        className="flex shrink-0 items-center gap-1 text-act hover:underline"
        title="Studio, address, logo, engineer, client and paper"
        onClick={() => setOpen(true)}
      >
        <Pencil size={11} /> change
      </button>
      <SheetDialog
        open={isOpen}
        onClose={() => setOpen(false)}
        title="Head of the reports"
        help="Stands on every report of this project. The next project begins with it, without the client."
      >
        <ReportHeadForm />
      </SheetDialog>
    </p>
  );
}

function ReportHeadForm() {
  const { view, edit } = useCurrentItem();
  const { about } = view.document;
  const { logo, ...lines } = about.report ?? PLAIN_HEAD;
  const keep = (report: ReportHead) => void edit({ type: "describeProject", about: { ...about, report } });
  const change = (changes: Partial<ReportHead>) => keep({ ...lines, ...(logo ? { logo } : {}), ...changes });
  return (
    <table className="w-full" data-testid="report-head">
      <tbody>
        {LINES.map(([name, label, hint, count = 1]) => (
          <tr key={name} className="border-b border-grid">
            <th scope="row" className="w-24 py-1 text-left align-top font-normal text-soft">
              {label}
            </th>
            <td className="py-1">
              <KeptText
                label={label}
                value={lines[name]}
                placeholder={hint}
                lines={count}
                onKeep={(value) => change({ [name]: value.trim() })}
              />
            </td>
          </tr>
        ))}
        <tr className="border-b border-grid">
          <th scope="row" className="py-2 text-left align-top font-normal text-soft">
            Logo
          </th>
          <td className="py-2">
            <CoverPicker
              label="Logo"
              cover={logo}
              className="h-16 w-32"
              words="JPEG or PNG"
              onPick={(picked) => keep({ ...lines, ...(picked ? { logo: picked } : {}) })}
            />
          </td>
        </tr>
        <tr>
          <th scope="row" className="py-1 text-left font-normal text-soft">
            Paper
          </th>
          <td className="py-1">
            <Select
              label="Paper"
              value={lines.paper}
              options={Object.keys(PAPERS) as Paper[]}
              onChange={(paper) => change({ paper })}
              className="h-6"
            />
          </td>
        </tr>
      </tbody>
    </table>
  );
}
