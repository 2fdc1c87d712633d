import { join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = fileURLToPath(new URL("..", import.meta.url)).replace(/\/$/, "");
export const inRoot = (...parts) => join(root, ...parts);
