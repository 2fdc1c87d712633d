// Formats what scripts write as `npm run format` would: what is made is then the same as what lies there.
import { readFileSync } from "node:fs";
import { format } from "oxfmt";
import { inRoot } from "./paths.mjs";

const { printWidth } = JSON.parse(readFileSync(inRoot(".oxfmtrc.json"), "utf8"));

/** @throws Error where `text` is not of the kind that `path` says */
export async function formatted(path, text) {
  const { code, errors } = await format(path, text, { printWidth });
  if (errors.length > 0) throw new Error(`${path}: ${errors[0].message}`);
  return code;
}
