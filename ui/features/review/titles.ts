/** Files of a review by their titles: what is of one item stands side by side. */
import type { ReviewFile } from "@core/review/views";

export interface Title {
  item: string;
  title: string;
  files: ReviewFile[];
}

export function titlesOf(files: readonly ReviewFile[]): Title[] {
  const titles = new Map<string, Title>();
  for (const file of files) {
    const known = titles.get(file.item_id);
    if (known) known.files.push(file);
    else titles.set(file.item_id, { item: file.item_id, title: file.title, files: [file] });
  }
  return [...titles.values()];
}

/** An order that a guest cannot guess, and that stays the same for them: by the hashes together with who they are. */
export function blindOrder(files: readonly ReviewFile[], guest: string): ReviewFile[] {
  const place = (file: ReviewFile) => {
    let sum = 7;
    for (const sign of `${guest} ${file.file_hash}`) sum = (Math.imul(sum, 31) + sign.codePointAt(0)!) >>> 0;
    return sum;
  };
  return [...files].sort((a, b) => place(a) - place(b));
}

export const letterOf = (index: number): string => String.fromCharCode(65 + index);
