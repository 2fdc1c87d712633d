/** What the commands that render share: their options, and their progress on the terminal. */
import type { RecipeOptions } from "./recipes";

export interface RenderOptions extends RecipeOptions {
  out: string;
  spec?: string[];
  layout?: string;
  json?: boolean;
  manifest?: string;
  programme?: string;
  sources?: string;
  force?: boolean;
}

export const progressOf = (options: Pick<RenderOptions, "json">, before = "") =>
  options.json || !process.stderr.isTTY
    ? undefined
    : ({ stage, fraction }: { stage: string; fraction: number }) =>
        void process.stderr.write(`\r${before}${stage} ${Math.round(fraction * 100)} %   `);
