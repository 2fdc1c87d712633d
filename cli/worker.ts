/** `resonum worker`: a render worker of another machine, or one more of this one. */
import { runInStudio, type StudioOptions } from "./studio";

export const startWorker = (options: StudioOptions): Promise<void> => runInStudio("worker", [], options);
