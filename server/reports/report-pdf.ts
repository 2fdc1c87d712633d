import { join } from "node:path";
import type PDFDocument from "pdfkit";
import { CHANNEL_COLUMNS, channelRows } from "@core/report/channels";
import { FIGURE_COLUMNS, figureWords, lengthWords } from "@core/report/columns";
import { entryStanding, type ReportEntry } from "@core/report/entry";
import type { Plot, PlotInk } from "@core/report/plot";
import { distributionPlot, loudnessPlot, spectrumPlot } from "@core/report/plots";
import { formatDb, formatRate } from "@core/audio/format";
import { LIMITED_FIGURES, type DeliverySpec } from "@core/delivery/spec";
import { marginWords, STATUS_LABELS } from "@core/delivery/compliance";

const INKS: Record<PlotInk, string> = {
  ink: "#23262b",
  soft: "#5d6066",
  grid: "#d8d4c8",
  outside: "#b53a12",
  band: "#dfe9e2",
  peak: "#a3a7ae",
};
const STATUS_COLOURS = { pass: "#17705f", marginal: "#8a5e07", fail: "#b53a12", unknown: "#5d6066" } as const;
const MARGIN = 40;
const WIDTH = 595.28 - 2 * MARGIN; // A4
const ROW = 14;

type Document = InstanceType<typeof PDFDocument>;

/** The face that ships with the application, below the folder of its packages. */
const FACE = ["@fontsource", "atkinson-hyperlegible-next", "files", "atkinson-hyperlegible-next-latin-400-normal.woff"];

function draw(document: Document, plot: Plot, left: number, top: number): void {
  document.save().translate(left, top);
  for (const { d, ink, width, filled, dashed } of plot.paths) {
    if (d === "") continue;
    document.path(d);
    if (filled) document.fill(INKS[ink]);
    else if (dashed) document.lineWidth(width).dash(4, { space: 3 }).stroke(INKS[ink]).undash();
    else document.lineWidth(width).stroke(INKS[ink]);
  }
  document.fontSize(6).fillColor(INKS.soft);
  for (const { x, y, text, anchor } of plot.texts) {
    const width = document.widthOfString(text);
    const from = anchor === "end" ? x - width : anchor === "middle" ? x - width / 2 : x;
    document.text(text, from, y - 6, { lineBreak: false });
  }
  document.restore();
}

/** A row of cells at the document's place; begins a page where there is no room. */
function row(document: Document, cells: { text: string; width: number; right?: boolean; colour?: string }[]): void {
  if (document.y + ROW > document.page.height - MARGIN) document.addPage();
  const { y } = document;
  let x = MARGIN;
  for (const { text, width, right, colour } of cells) {
    // The face that ships has no sign for infinity.
    document.fillColor(colour ?? INKS.ink).text(text.replace("−∞", "silent"), x, y, {
      width: width - 4,
      height: ROW,
      align: right ? "right" : "left",
      ellipsis: true,
      lineBreak: false,
    });
    x += width;
  }
  document.x = MARGIN;
  document.y = y + ROW;
  document
    .lineWidth(0.4)
    .moveTo(MARGIN, y + ROW - 3)
    .lineTo(MARGIN + WIDTH, y + ROW - 3)
    .stroke(INKS.grid);
}

function entryPage(document: Document, entry: ReportEntry, spec: DeliverySpec | null): void {
  const { name, problem, figures, drawings, verdict, findings, warnings } = entry;
  document.addPage().fontSize(12).fillColor(INKS.ink).text(name, MARGIN, MARGIN);
  document.fontSize(9);
  if (!figures || !drawings) {
    document.fillColor(INKS.outside).text(problem ?? "");
    return;
  }
  document
    .fillColor(INKS.soft)
    .text(`${lengthWords(figures)} · ${formatRate(figures.sampleRate)} · ${figures.layout}`)
    .moveDown(0.6);
  for (const { limit, value, status } of verdict?.limits ?? []) {
    const { label, unit } = LIMITED_FIGURES[limit.figure];
    row(document, [
      { text: label, width: 90 },
      { text: `${formatDb(value, { digits: 2 })} ${unit}`, width: 80, right: true },
      { text: `${STATUS_LABELS[status]}: ${marginWords(limit, value)}`, width: 150, colour: STATUS_COLOURS[status] },
      { text: limit.clause, width: WIDTH - 320, colour: INKS.soft },
    ]);
  }
  for (const { what, value, wanted, met, clause } of verdict?.fileRequirements ?? [])
    row(document, [
      { text: what, width: 90 },
      { text: value, width: 80, right: true },
      {
        text: `${STATUS_LABELS[met ? "pass" : "fail"]}: ${wanted}`,
        width: 150,
        colour: STATUS_COLOURS[met ? "pass" : "fail"],
      },
      { text: clause, width: WIDTH - 320, colour: INKS.soft },
    ]);
  document.moveDown(0.6);
  for (const column of FIGURE_COLUMNS) {
    if (verdict?.limits.some(({ limit }) => limit.figure === column.limited)) continue;
    row(document, [
      { text: column.label, width: 150 },
      { text: `${figureWords(column, figures)} ${column.unit}`, width: 80, right: true },
    ]);
  }
  document.moveDown(0.6);
  const channels = channelRows(figures);
  if (channels.length > 2) {
    const cell = (text: string, colour?: string) => ({ text, width: 100, right: true, ...(colour ? { colour } : {}) });
    row(document, [
      { text: "channel", width: 60, colour: INKS.soft },
      ...CHANNEL_COLUMNS.map((name) => cell(name, INKS.soft)),
    ]);
    for (const { label, cells } of channels)
      row(document, [{ text: label, width: 60 }, ...cells.map((text) => cell(text))]);
    document.moveDown(0.6);
  }
  for (const [fact, value] of entry.facts ?? [])
    row(document, [
      { text: fact, width: 110, colour: INKS.soft },
      { text: value, width: WIDTH - 110 },
    ]);
  if (entry.facts) document.moveDown(0.6);
  for (const warning of warnings)
    document.fillColor(STATUS_COLOURS.marginal).text(warning, MARGIN, document.y, { width: WIDTH });
  for (const { severity, title, facts, advice } of findings)
    document
      .fillColor(severity === "fault" ? INKS.outside : STATUS_COLOURS.marginal)
      .text(`${title}. `, MARGIN, document.y, { continued: true, width: WIDTH })
      .fillColor(INKS.ink)
      .text(`${facts} ${advice}`);
  const plots = [
    {
      plot: loudnessPlot(drawings, spec?.limits ?? [], WIDTH, 110),
      words: "Loudness over time: short-term in ink, momentary grey",
    },
    { plot: distributionPlot(drawings, WIDTH, 90), words: "Distribution of short-term loudness" },
    {
      plot: spectrumPlot(drawings, WIDTH, 90),
      words: "Long-term spectrum in sixth octaves: average in ink, peak grey",
    },
  ];
  for (const { plot, words } of plots) {
    if (document.y + plot.height + 24 > document.page.height - MARGIN) document.addPage();
    document
      .fontSize(7)
      .fillColor(INKS.soft)
      .text(words, MARGIN, document.y + 8);
    const top = document.y;
    draw(document, plot, MARGIN, top);
    document.x = MARGIN;
    document.y = top + plot.height;
  }
}

/**
 * A report of many recordings as a PDF: a table of all, then a page or more for each.
 * @param packages folder of the application's packages, where its face lies
 */
export async function pdfReport(
  entries: readonly ReportEntry[],
  spec: DeliverySpec | null,
  title: string,
  packages: string,
): Promise<Buffer> {
  // Loaded only when a PDF is wanted: it is large.
  const { default: Document } = await import("pdfkit");
  const document = new Document({ size: "A4", margin: MARGIN, info: { Title: title, Creator: "Resonum" } });
  const parts: Buffer[] = [];
  document.on("data", (part: Buffer) => parts.push(part));
  const done = new Promise<Buffer>((resolve, reject) => {
    document.on("end", () => resolve(Buffer.concat(parts)));
    document.on("error", reject);
  });
  document
    .font(join(packages, ...FACE))
    .fontSize(16)
    .fillColor(INKS.ink)
    .text(title);
  document.fontSize(9).fillColor(INKS.soft);
  document.text(
    spec ? `Held against ${spec.name} (${spec.source}, ${spec.edition})` : "Measured, held against no specification",
  );
  document.moveDown(0.8).fontSize(8);
  const columns = FIGURE_COLUMNS.slice(0, 5);
  const name = WIDTH - 60 - columns.length * 62;
  row(document, [
    { text: "standing", width: 60, colour: INKS.soft },
    { text: "recording", width: name, colour: INKS.soft },
    ...columns.map(({ label }) => ({ text: label, width: 62, right: true, colour: INKS.soft })),
  ]);
  for (const entry of entries) {
    const standing = entryStanding(entry);
    const good = standing === "passes" || standing === "measured";
    row(document, [
      { text: standing, width: 60, colour: good ? STATUS_COLOURS.pass : STATUS_COLOURS.fail },
      { text: entry.name, width: name },
      ...columns.map((column) => ({
        text: entry.figures ? figureWords(column, entry.figures) : "",
        width: 62,
        right: true,
      })),
    ]);
  }
  for (const entry of entries) entryPage(document, entry, spec);
  document.end();
  return done;
}
