// The types of the kernels' exports, read from their AssemblyScript: never typed by hand.
import { readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";

const TYPES = { bool: "boolean", void: "void" };
const numeric = ["usize", "i32", "u32", "f32", "f64"];

function typeOf(node, where) {
  const name = node?.getText() ?? "void";
  if (numeric.includes(name)) return "number";
  if (name in TYPES) return TYPES[name];
  throw new Error(`${where}: a kernel takes and gives numbers and booleans, not ${name}`);
}

const parsed = (path) => ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true);

/** @throws Error where `path` has no such function, or one of other types than numbers and booleans */
function signatureOf(path, name) {
  const isIt = (statement) => ts.isFunctionDeclaration(statement) && statement.name?.text === name;
  const found = parsed(path).statements.find(isIt);
  if (!found) throw new Error(`${path} has no function ${name}`);
  const where = `${path}, ${name}`;
  const parameters = found.parameters.map((one) => `${one.name.getText()}: ${typeOf(one.type, where)}`);
  return `${name}(${parameters.join(", ")}): ${typeOf(found.type, where)};`;
}

/** A module with the interface of all that `entry` exports again. */
export function bindingsOf(folder, entry) {
  const lines = parsed(join(folder, entry)).statements.flatMap((statement) => {
    if (!ts.isExportDeclaration(statement)) return [];
    const path = `${statement.moduleSpecifier.text}.ts`;
    const signatures = statement.exportClause.elements.map(({ name }) => signatureOf(join(folder, path), name.text));
    return [`  // ${path}`, ...signatures.map((line) => `  ${line}`)];
  });
  return `// Made by "npm run kernels" from ${entry}. Addresses and strides are in bytes.
export interface Kernels {
${lines.join("\n")}
}
`;
}
