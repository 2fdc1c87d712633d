/** `resonum sweep` and `resonum scrub`: what lies in the store of a studio. */
import { runInStudio, type StudioOptions } from "./studio";

interface StoreOptions extends StudioOptions {
  dryRun?: boolean;
  json?: boolean;
}

const flags = ({ dryRun, json }: StoreOptions): string[] => [
  ...(dryRun ? ["--dry-run"] : []),
  ...(json ? ["--json"] : []),
];

export const sweepStore = (options: StoreOptions): Promise<void> =>
  runInStudio("store", ["sweep", ...flags(options)], options);

export const scrubStore = (options: StoreOptions): Promise<void> =>
  runInStudio("store", ["scrub", ...flags(options)], options);
