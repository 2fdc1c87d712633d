/** Reports as HTML documents that need nothing else, and print on pages. */
import { MARKS, type Block, type Cell, type Column, type ReportDescription, type Tone } from "./description";
import { PAPERS } from "../project/report-head";
import type { Plot, PlotInk } from "./plot";

const INKS: Record<PlotInk, string> = {
  ink: "#23262b",
  soft: "#5d6066",
  grid: "#e7e3d8",
  outside: "#b53a12",
  band: "#dfe9e2",
  peak: "#a3a7ae",
};

const ENTITIES: Readonly<Record<string, string>> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };

const escaped = (text: string): string => text.replace(/[&<>"]/g, (character) => ENTITIES[character]!);

export function svgOf({ width, height, paths, texts }: Plot, label: string): string {
  const lines = paths.map(({ d, ink, width: stroke, filled, dashed }) =>
    filled
      ? `<path d="${d}" fill="${INKS[ink]}"/>`
      : `<path d="${d}" fill="none" stroke="${INKS[ink]}" stroke-width="${stroke}"${dashed ? ' stroke-dasharray="4 3"' : ""}/>`,
  );
  const words = texts.map(
    ({ x, y, text, anchor }) =>
      `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" text-anchor="${anchor}">${escaped(text)}</text>`,
  );
  return `<svg viewBox="0 0 ${width} ${height}" role="img" aria-label="${escaped(label)}">${lines.join("")}${words.join("")}</svg>`;
}

const styleFor = (
  paper: string,
): string => `body{font:13px/1.45 "Atkinson Hyperlegible Next",system-ui,sans-serif;color:#23262b;background:#f3f1ea;margin:0}
main{background:#fff;max-width:980px;margin:24px auto;padding:40px 48px}
header{display:flex;justify-content:space-between;gap:24px;border-bottom:2px solid #23262b;padding-bottom:12px;margin-bottom:12px}
header img{max-height:72px;max-width:220px}header p{margin:0;white-space:pre-line}.studio{font-weight:bold;font-size:15px}
h1{font-size:22px;margin:0 0 10px}h2{font-size:17px;margin:0 0 8px;display:flex;gap:10px;align-items:baseline}h3{font-size:13px;margin:14px 0 4px}
h2 small{font-weight:normal;font-size:13px}section+section{border-top:1px solid #d8d4c8;margin-top:28px;padding-top:20px}
table{border-collapse:collapse;width:100%;table-layout:fixed}th,td{padding:3px 8px 3px 0;border-bottom:1px solid #e7e3d8;text-align:left;font-weight:normal;vertical-align:top;overflow-wrap:anywhere}
.n{text-align:right;font-variant-numeric:tabular-nums}thead th{color:#5d6066;font-size:11px}
dl{columns:2;column-gap:32px;margin:0}dl div{display:flex;gap:12px;justify-content:space-between;border-bottom:1px solid #e7e3d8;padding:3px 0;break-inside:avoid}dt{color:#5d6066;flex:none}dd{margin:0;text-align:right;overflow-wrap:anywhere}
dl.one{columns:1}.pass{color:#17705f}.marginal{color:#8a5e07}.fail{color:#b53a12}.unknown,.soft{color:#5d6066}
.plots{display:flex;gap:16px}figure{flex:1;margin:10px 0 0;min-width:0}svg{width:100%;height:auto;display:block}svg text{font-size:8px;fill:#5d6066}figcaption{font-size:11px;color:#5d6066}
footer{color:#5d6066;font-size:11px;margin-top:28px;border-top:1px solid #d8d4c8;padding-top:6px}
@page{size:${paper};margin:16mm 15mm}
@media print{body{background:#fff;font-size:10px}main{max-width:none;margin:0;padding:0}section+section{break-before:page;border:0;margin:0;padding:0}tr,figure{break-inside:avoid}h3{break-after:avoid}}`;

const cellOf = ({ text, tone, marked }: Cell, { align }: Column): string => {
  const classes = [align === "right" ? "n" : "", tone ?? ""].filter(Boolean).join(" ");
  const mark = marked && tone && tone !== "soft" ? `${MARKS[tone]} ` : "";
  return `<td${classes ? ` class="${classes}"` : ""}>${mark}${escaped(text)}</td>`;
};

const factsOf = (facts: readonly (readonly [string, string])[], isOne = false): string =>
  `<dl${isOne ? ' class="one"' : ""}>${facts.map(([name, value]) => `<div><dt>${escaped(name)}</dt><dd>${escaped(value)}</dd></div>`).join("")}</dl>`;

const toned = (tone: Tone | undefined, text: string): string =>
  `${tone && tone !== "soft" ? `${MARKS[tone]} ` : ""}${escaped(text)}`;

/** Width that drawings are made for: they are scaled to the room there is. */
const DRAWN_WIDTH = 760;

function blockHtml(block: Block): string {
  switch (block.kind) {
    case "heading": {
      const { text, about, status, words } = block;
      const mark = status ? `<small class="${status}">${MARKS[status]} ${words}</small>` : "";
      return `<h2>${escaped(text)} <small class="soft">${escaped(about)}</small> ${mark}</h2>`;
    }
    case "subheading":
      return `<h3>${escaped(block.text)}</h3>`;
    case "words":
      return `<p class="${block.tone ?? ""}">${toned(block.tone, block.text)}</p>`;
    case "points":
      return `<ul>${block.points
        .map(({ title, tone, text }) => `<li><b class="${tone}">${toned(tone, title)}</b> ${escaped(text)}</li>`)
        .join("")}</ul>`;
    case "table": {
      const { columns, rows } = block;
      const head = columns.map(
        ({ label, share, align }) =>
          `<th style="width:${(share * 100).toFixed(1)}%"${align === "right" ? ' class="n"' : ""}>${escaped(label)}</th>`,
      );
      const body = rows.map((row) => `<tr>${row.map((cell, i) => cellOf(cell, columns[i]!)).join("")}</tr>`);
      return `<table><thead><tr>${head.join("")}</tr></thead><tbody>${body.join("")}</tbody></table>`;
    }
    case "facts":
      return factsOf(block.facts);
    case "plots": {
      const width = DRAWN_WIDTH / block.plots.length;
      const drawn = block.plots.map(
        ({ words, draw }) =>
          `<figure>${svgOf(draw(width, block.height), words)}<figcaption>${escaped(words)}</figcaption></figure>`,
      );
      return `<div class="plots">${drawn.join("")}</div>`;
    }
  }
}

/** @param logo as a data URL, where the head has one */
export function htmlReport(report: ReportDescription, logo: string | null = null): string {
  const { title, head, facts, sections } = report;
  const studio = head.studio || head.contact || logo;
  const letterhead = studio
    ? `<header><div><p class="studio">${escaped(head.studio)}</p><p>${escaped(head.contact)}</p></div>${logo ? `<img src="${logo}" alt="">` : ""}</header>`
    : "";
  const [width, height] = PAPERS[head.paper];
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title><style>${styleFor(`${width}pt ${height}pt`)}</style>
<main>${letterhead}<h1>${escaped(title)}</h1>${factsOf(facts, true)}
${sections.map(({ blocks }) => `<section>${blocks.map(blockHtml).join("\n")}</section>`).join("\n")}
<footer>Made with Resonum</footer></main>
</html>
`;
}
