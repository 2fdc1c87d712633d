/** Reports as PDF, on the paper that their head says. */
import { join } from "node:path";
import type PDFDocument from "pdfkit";
import type { Block, Cell, Column, ReportDescription, ReportSection, Tone } from "@core/report/description";
import { PAPERS } from "@core/project/report-head";
import type { Plot, PlotInk } from "@core/report/plot";

const INKS: Record<PlotInk, string> = {
  ink: "#23262b",
  soft: "#5d6066",
  grid: "#d8d4c8",
  outside: "#b53a12",
  band: "#dfe9e2",
  peak: "#a3a7ae",
};
const TONES: Readonly<Record<Tone, string>> = {
  pass: "#17705f",
  marginal: "#8a5e07",
  fail: "#b53a12",
  unknown: "#5d6066",
  soft: "#5d6066",
};
const MARGIN = 42;
const FOOT = 26;
const PADDING = 2;
/** Between columns. */
const GAP = 10;
const LOGO: [width: number, height: number] = [130, 44];

type Document = InstanceType<typeof PDFDocument>;

/** The face that ships with the application, below the folder of its packages; 400 is regular, 700 bold. */
const faceIn = (packages: string, weight: 400 | 700): string =>
  join(
    packages,
    "@fontsource",
    "atkinson-hyperlegible-next",
    "files",
    `atkinson-hyperlegible-next-latin-${weight}-normal.woff`,
  );

/** The characters that the Latin cut of the face has; what holds others is set in a face of many alphabets. */
const LATIN =
  /^[\u0000-\u00ff\u0131\u0152\u0153\u02bb\u02bc\u02c6\u02da\u02dc\u2000-\u206f\u20ac\u2122\u2191\u2193\u2212\u2215]*$/;

const manyAlphabets = (packages: string, weight: 400 | 700): string =>
  join(packages, "dejavu-fonts-ttf", "ttf", weight === 400 ? "DejaVuSans.ttf" : "DejaVuSans-Bold.ttf");

type Face = "regular" | "bold";

/** Sets the face that has all characters of `words`. */
const setFace = (document: Document, face: Face, words: string): Document =>
  document.font(LATIN.test(words) ? face : `${face}, many alphabets`);

/** Draws blocks one below the other, and begins a page where one does not fit. */
class Pages {
  constructor(readonly document: Document) {}

  get width(): number {
    return this.document.page.width - 2 * MARGIN;
  }

  get bottom(): number {
    return this.document.page.height - MARGIN - FOOT;
  }

  /** Begins a page unless so much fits below. */
  need(height: number): void {
    if (this.document.y + height > this.bottom) this.newPage();
  }

  newPage(): void {
    this.document.addPage();
    this.document.y = MARGIN;
  }

  skip(height: number): void {
    this.document.x = MARGIN;
    this.document.y += height;
  }

  /** @param mark before it, where its tone has one */
  text(words: string, size: number, tone: Tone | undefined, face: Face = "regular", mark = false): void {
    const { document } = this;
    setFace(document, face, words).fontSize(size);
    const indent = mark && hasMark(tone) ? size : 0;
    const width = this.width - indent;
    this.need(document.heightOfString(written(words), { width }));
    if (indent > 0) drawMark(document, tone!, MARGIN, document.y, size);
    document.fillColor(colourOf(tone)).text(written(words), MARGIN + indent, document.y, { width });
    document.x = MARGIN;
  }

  rule(colour: string, width = 0.4): void {
    const { document } = this;
    document
      .lineWidth(width)
      .moveTo(MARGIN, document.y)
      .lineTo(MARGIN + this.width, document.y)
      .stroke(colour);
  }

  /** A row of cells, as high as the highest of them. */
  row(cells: readonly Cell[], columns: readonly Column[], size: number): void {
    const { document } = this;
    document.fontSize(size);
    const boxes = cells.map(({ text, tone, marked }, i) => {
      const indent = marked && hasMark(tone) ? size : 0;
      const width = columns[i]!.share * this.width - GAP - indent;
      const words = written(text);
      setFace(document, "regular", words);
      return { words, width, indent, height: document.heightOfString(words || " ", { width }) };
    });
    const height = Math.max(...boxes.map((box) => box.height)) + 2 * PADDING;
    this.need(height);
    const { y } = document;
    let x = MARGIN;
    for (const [i, { words, width, indent }] of boxes.entries()) {
      const { tone } = cells[i]!;
      if (indent > 0) drawMark(document, tone!, x, y + PADDING, size);
      const align = columns[i]!.align ?? "left";
      setFace(document, "regular", words);
      document.fillColor(colourOf(tone)).text(words, x + indent, y + PADDING, { width, align });
      x += columns[i]!.share * this.width;
    }
    document.y = y + height;
    this.rule(INKS.grid);
  }
}

/** The face that ships has no sign for infinity. */
const written = (text: string): string => text.replace("−∞", "silent");

const colourOf = (tone: Tone | undefined): string => (tone ? TONES[tone] : INKS.ink);

const hasMark = (tone: Tone | undefined): boolean => tone !== undefined && tone !== "soft";

/** Disc, diamond, triangle or ring, drawn: the face that ships has no such signs. */
function drawMark(document: Document, tone: Tone, left: number, top: number, size: number): void {
  const radius = size * 0.32;
  const [x, y] = [left + radius, top + size * 0.52];
  if (tone === "pass") document.circle(x, y, radius).fill(TONES[tone]);
  else if (tone === "marginal")
    document.polygon([x, y - radius], [x + radius, y], [x, y + radius], [x - radius, y]).fill(TONES[tone]);
  else if (tone === "fail")
    document.polygon([x, y - radius], [x + radius, y + radius], [x - radius, y + radius]).fill(TONES[tone]);
  else document.lineWidth(0.8).circle(x, y, radius).stroke(TONES[tone]);
}

function drawPlot(document: Document, plot: Plot, left: number, top: number): void {
  document.save().translate(left, top);
  for (const { d, ink, width, filled, dashed } of plot.paths) {
    if (d === "") continue;
    document.path(d);
    if (filled) document.fill(INKS[ink]);
    else if (dashed) document.lineWidth(width).dash(4, { space: 3 }).stroke(INKS[ink]).undash();
    else document.lineWidth(width).stroke(INKS[ink]);
  }
  document.font("regular").fontSize(6).fillColor(INKS.soft);
  for (const { x, y, text, anchor } of plot.texts) {
    const width = document.widthOfString(text);
    const from = anchor === "end" ? x - width : anchor === "middle" ? x - width / 2 : x;
    document.text(text, from, y - 6, { lineBreak: false });
  }
  document.restore();
}

/** Points: higher than any section. */
const ENDLESS = 1e6;
/** Part of the width that names of facts take. */
const FACT_NAME = 0.28;
/** A table's head and two of its rows. */
const HEAD_AND_TWO = 50;
const GUTTER = 14;
const CAPTION = 12;

/** @param stretch of drawings' heights, so that a page is filled */
function drawBlock(pages: Pages, block: Block, stretch = 1): void {
  const { document } = pages;
  switch (block.kind) {
    case "heading":
      if (block.text) pages.text(block.text, 14, undefined, "bold");
      if (block.status) pages.text(block.words, 10, block.status, "regular", true);
      if (block.about) pages.text(block.about, 9, "soft");
      return pages.skip(6);
    case "subheading":
      pages.need(34); // never alone at the foot of a page
      pages.skip(9);
      pages.text(block.text, 9.5, undefined, "bold");
      return pages.skip(2);
    case "words":
      pages.skip(3);
      return pages.text(block.text, 8.5, block.tone, "regular", true);
    case "points":
      for (const { title, tone, text } of block.points) {
        pages.text(title, 8.5, tone, "bold", true);
        pages.text(text, 8.5, undefined);
        pages.skip(2);
      }
      return;
    case "table": {
      pages.need(HEAD_AND_TWO); // a head is not left alone at the foot of a page
      const head = block.columns.map(({ label }): Cell => ({ text: label, tone: "soft" }));
      pages.row(head, block.columns, 7);
      for (const row of block.rows) pages.row(row, block.columns, 8.5);
      return;
    }
    case "facts":
      return drawFacts(pages, block.facts, 2);
    case "plots": {
      const width = (pages.width - GUTTER * (block.plots.length - 1)) / block.plots.length;
      const height = block.height * stretch;
      pages.need(height + CAPTION + 6);
      pages.skip(6);
      const top = document.y;
      for (const [i, { words, draw }] of block.plots.entries()) {
        const left = MARGIN + i * (width + GUTTER);
        document.font("regular").fontSize(7).fillColor(INKS.soft).text(words, left, top, { width, lineBreak: false });
        drawPlot(document, draw(width, height), left, top + CAPTION);
      }
      document.x = MARGIN;
      document.y = top + CAPTION + height;
    }
  }
}

/** Names and values: short ones beside one another, those that are long on a line of their own. */
function drawFacts(pages: Pages, facts: readonly (readonly [string, string])[], beside: 1 | 2): void {
  const LONGEST = 26;
  const columns = (count: number): Column[] =>
    Array.from({ length: count }, () => [
      { label: "", share: FACT_NAME },
      { label: "", share: 1 / count - FACT_NAME },
    ]).flat();
  const cells = ([name, value]: readonly [string, string]): Cell[] => [{ text: name, tone: "soft" }, { text: value }];
  for (let i = 0; i < facts.length; i++) {
    const [fact, next] = [facts[i]!, facts[i + 1]];
    if (beside === 2 && next && fact[1].length <= LONGEST && next[1].length <= LONGEST) {
      pages.row([...cells(fact), ...cells(next)], columns(2), 8.5);
      i++;
    } else pages.row(cells(fact), columns(1), 8.5);
  }
}

/** How far drawings give way, so that a section fits below another, or fills a page of its own. */
const [LEAST_STRETCH, MOST_STRETCH] = [0.5, 1.7];
/** Room for what may not stand alone at the foot of a page. */
const SPARE = 12;

/** Draws a section below what there is if it fits there, else on a page of its own. */
function drawSection(pages: Pages, { blocks }: ReportSection, height: number, isFirst: boolean): void {
  const drawings = blocks.reduce((sum, block) => sum + (block.kind === "plots" ? block.height : 0), 0);
  const spare = drawings > 0 ? SPARE : 0;
  const least = height - (1 - LEAST_STRETCH) * drawings + spare;
  if (!isFirst && pages.document.y + SECTION_GAP + least <= pages.bottom) pages.skip(SECTION_GAP);
  else if (!isFirst) pages.newPage();
  const room = pages.bottom - pages.document.y;
  // What does not fit on one page anyhow fills two.
  const fills = least <= room ? room : room + pages.bottom - MARGIN;
  const wanted = drawings > 0 ? 1 + (fills - spare - height) / drawings : 1;
  const stretch = Math.max(LEAST_STRETCH, Math.min(MOST_STRETCH, wanted));
  for (const block of blocks) drawBlock(pages, block, stretch);
}

/** Space between two sections on one page. */
const SECTION_GAP = 24;

function drawHead(pages: Pages, { title, head, facts }: ReportDescription, logo: Uint8Array | null): void {
  const { document } = pages;
  const top = document.y;
  if (logo) document.image(Buffer.from(logo), MARGIN + pages.width - LOGO[0], top, { fit: LOGO, align: "right" });
  if (head.studio) pages.text(head.studio, 11, undefined, "bold");
  if (head.contact) pages.text(head.contact, 8.5, "soft");
  if (head.studio || head.contact || logo) {
    document.y = Math.max(document.y, logo ? top + LOGO[1] : 0) + 6;
    pages.rule(INKS.ink, 1);
    pages.skip(10);
  }
  pages.text(title, 18, undefined, "bold");
  pages.skip(4);
  drawFacts(pages, facts, 1);
  pages.skip(12);
}

/** Title and number at the foot of each page. */
function drawFeet(pages: Pages, title: string): void {
  const { document } = pages;
  const { start, count } = document.bufferedPageRange();
  for (let page = 0; page < count; page++) {
    document.switchToPage(start + page);
    const y = document.page.height - MARGIN - 8;
    setFace(document, "regular", title).fontSize(7).fillColor(INKS.soft);
    document.text(title, MARGIN, y, { lineBreak: false });
    const number = `page ${page + 1} of ${count}`;
    document
      .font("regular")
      .text(number, MARGIN + pages.width - document.widthOfString(number), y, { lineBreak: false });
  }
}

/**
 * A report as a PDF. Each section begins a page of its own; the first one stands below the head where it is a table.
 * @param packages folder of the application's packages, where its face lies
 * @param logo PNG or JPEG, where the head has one
 */
export async function pdfReport(
  report: ReportDescription,
  packages: string,
  logo: Uint8Array | null = null,
): Promise<Buffer> {
  // Loaded only when a PDF is wanted: it is large.
  const { default: Document } = await import("pdfkit");
  const [width, height] = PAPERS[report.head.paper];
  const begun = (size: [number, number]): Pages => {
    const document = new Document({
      size,
      margin: 0,
      bufferPages: true,
      info: {
        Title: report.title,
        Creator: "Resonum",
        ...(report.head.engineer ? { Author: report.head.engineer } : {}),
      },
    });
    for (const [face, weight] of [
      ["regular", 400],
      ["bold", 700],
    ] as const) {
      document.registerFont(face, faceIn(packages, weight));
      document.registerFont(`${face}, many alphabets`, manyAlphabets(packages, weight));
    }
    document.y = MARGIN;
    return new Pages(document);
  };
  // Sections are drawn on an endless page first: so much room each of them takes.
  const endless = begun([width, ENDLESS]);
  const heightOf = ({ blocks }: ReportSection): number => {
    endless.document.y = MARGIN;
    for (const block of blocks) drawBlock(endless, block);
    return endless.document.y - MARGIN;
  };
  const pages = begun([width, height]);
  const { document } = pages;
  const parts: Buffer[] = [];
  document.on("data", (part: Buffer) => parts.push(part));
  const done = new Promise<Buffer>((resolve, reject) => {
    document.on("end", () => resolve(Buffer.concat(parts)));
    document.on("error", reject);
  });
  drawHead(pages, report, logo);
  for (const [index, section] of report.sections.entries()) drawSection(pages, section, heightOf(section), index === 0);
  drawFeet(pages, report.title);
  document.end();
  return done;
}
