import { formatDb, formatRate } from "../audio/format";
import { LIMITED_FIGURES, type DeliverySpec } from "../delivery/spec";
import { marginWords, type ComplianceStatus } from "../delivery/compliance";
import { STATUS_OF_SEVERITY } from "../findings";
import { CHANNEL_COLUMNS, channelRows } from "./channels";
import { FIGURE_COLUMNS, figureWords, lengthWords } from "./columns";
import { entryStanding, type ReportEntry } from "./entry";
import type { Plot, PlotInk } from "./plot";
import { distributionPlot, loudnessPlot, spectrumPlot } from "./plots";

const INKS: Record<PlotInk, string> = {
  ink: "#23262b",
  soft: "#5d6066",
  grid: "#e7e3d8",
  outside: "#b53a12",
  band: "#dfe9e2",
  peak: "#a3a7ae",
};
const MARKS: Record<ComplianceStatus, string> = { pass: "●", marginal: "◆", fail: "▲", unknown: "○" };

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (character) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[character]!);

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
  return `<svg viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" role="img" aria-label="${escaped(label)}">${lines.join("")}${words.join("")}</svg>`;
}

const STYLE = `body{font:13px/1.5 "Atkinson Hyperlegible Next",system-ui,sans-serif;color:#23262b;background:#f3f1ea;margin:32px auto;max-width:1040px}
h1{font-size:20px}h2{font-size:15px;margin:28px 0 6px;border-top:1px solid #d8d4c8;padding-top:14px}
table{border-collapse:collapse;background:#fbfaf6;width:100%}th,td{padding:3px 8px;border-bottom:1px solid #e7e3d8;text-align:left;font-weight:normal}
td.n{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap}thead th{color:#5d6066;font-size:11px}
.pass{color:#17705f}.marginal{color:#8a5e07}.fail{color:#b53a12}.soft{color:#5d6066}
svg{background:#fbfaf6;margin:6px 8px 0 0}svg text{font-size:8px;fill:#5d6066}figure{display:inline-block;margin:0}figcaption{font-size:11px;color:#5d6066}
@media print{body{background:#fff;margin:0}section{break-inside:avoid}}`;

function overview(entries: readonly ReportEntry[]): string {
  const head = FIGURE_COLUMNS.slice(0, 8).map(({ label, unit }) => `<th>${label}<br>${unit}</th>`);
  const rows = entries.map((entry) => {
    const standing = entryStanding(entry);
    const mark: ComplianceStatus =
      standing === "passes" || standing === "measured" ? "pass" : entry.problem === null ? "fail" : "unknown";
    const cells = FIGURE_COLUMNS.slice(0, 8).map((column) => {
      const verdict = entry.verdict?.limits.find(({ limit }) => limit.figure === column.limited);
      const level = entry.figures ? figureWords(column, entry.figures) : "";
      return `<td class="n ${verdict?.status ?? ""}">${level}</td>`;
    });
    return `<tr><td class="${mark}">${MARKS[mark]} ${standing}</td><td>${escaped(entry.name)}</td>${cells.join("")}</tr>`;
  });
  return `<table><thead><tr><th>standing</th><th>recording</th>${head.join("")}</tr></thead><tbody>${rows.join("")}</tbody></table>`;
}

function section(entry: ReportEntry, spec: DeliverySpec | null): string {
  const { name, problem, figures, drawings, verdict, findings, warnings } = entry;
  if (!figures || !drawings)
    return `<section><h2>${escaped(name)}</h2><p class="fail">${escaped(problem ?? "")}</p></section>`;
  const about = `${lengthWords(figures)} · ${formatRate(figures.sampleRate)} · ${escaped(figures.layout)}`;
  const limits = verdict?.limits.map(
    ({ limit, value, status }) =>
      `<tr><td class="${status}">${MARKS[status]}</td><td>${LIMITED_FIGURES[limit.figure].label}</td><td class="n">${formatDb(value, { digits: 2 })} ${LIMITED_FIGURES[limit.figure].unit}</td><td>${marginWords(limit, value)}</td><td class="soft">${escaped(limit.clause)}</td></tr>`,
  );
  const fileRequirements = verdict?.fileRequirements.map(
    ({ what, value, wanted, met, clause }) =>
      `<tr><td class="${met ? "pass" : "fail"}">${MARKS[met ? "pass" : "fail"]}</td><td>${escaped(what)}</td><td class="n">${escaped(value)}</td><td>${escaped(wanted)}</td><td class="soft">${escaped(clause)}</td></tr>`,
  );
  const facts = entry.facts?.map(([fact, value]) => `<tr><td>${escaped(fact)}</td><td>${escaped(value)}</td></tr>`);
  const channels = channelRows(figures).map(
    ({ label, cells }) =>
      `<tr><td>${escaped(label)}</td>${cells.map((cell) => `<td class="n">${cell}</td>`).join("")}</tr>`,
  );
  const noticed = findings.map(
    ({ severity, title, facts, advice }) =>
      `<li><b class="${STATUS_OF_SEVERITY[severity]}">${MARKS[STATUS_OF_SEVERITY[severity]]} ${escaped(title)}</b> ${escaped(facts)} <span class="soft">${escaped(advice)}</span></li>`,
  );
  const figure = (plot: Plot, words: string) =>
    `<figure>${svgOf(plot, words)}<figcaption>${words}</figcaption></figure>`;
  return `<section><h2>${escaped(name)} <span class="soft">${about}</span></h2>
${limits ? `<table><tbody>${limits.join("")}${fileRequirements?.join("") ?? ""}</tbody></table>` : ""}
${channels.length > 2 ? `<table><thead><tr><th>channel</th>${CHANNEL_COLUMNS.map((name) => `<th>${name}</th>`).join("")}</tr></thead><tbody>${channels.join("")}</tbody></table>` : ""}
${facts ? `<table><tbody>${facts.join("")}</tbody></table>` : ""}
${warnings.length > 0 ? `<p class="marginal">◆ ${warnings.map(escaped).join(" ")}</p>` : ""}
${noticed.length > 0 ? `<ul>${noticed.join("")}</ul>` : ""}
${figure(loudnessPlot(drawings, spec?.limits ?? [], 1000, 150), "Loudness over time: short-term in ink, momentary grey")}
${figure(distributionPlot(drawings, 490, 130), "Distribution of short-term loudness")}${figure(spectrumPlot(drawings, 490, 130), "Long-term spectrum in sixth octaves: average in ink, peak grey")}
</section>`;
}

/** A report of many recordings as one HTML document that needs nothing else. */
export function htmlReport(entries: readonly ReportEntry[], spec: DeliverySpec | null, title: string): string {
  const passed = entries.filter((entry) => entryStanding(entry) === "passes").length;
  const against = spec
    ? `Held against ${escaped(spec.name)} (${escaped(spec.source)}, ${escaped(spec.edition)}): ${passed} of ${entries.length} pass.`
    : `${entries.length} recordings.`;
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escaped(title)}</title><style>${STYLE}</style>
<h1>${escaped(title)}</h1><p>${against} Loudness by ITU-R BS.1770-5, EBU Tech 3341 and 3342.</p>
${overview(entries)}
${entries.map((entry) => section(entry, spec)).join("\n")}
</html>
`;
}
