/** Windows on the item that were looked at before, to go back to them. A zoom is a window; what is scrolled is not. */
import { useWorkspace, type TimeRange } from "./workspace-store";

type Window = TimeRange | null;

/** Further back than this nobody goes. */
const MOST = 50;
/** Zooms that follow one another as quickly as this are one, as those of a wheel. */
const TOGETHER_MS = 600;

const history: { back: Window[]; forth: Window[] } = { back: [], forth: [] };
let zoomedAt = -Infinity;
let isGoing = false;

const lengthOf = (window: Window): number | null => window && window.end - window.start;

/** Keeps what is looked at until the end is called. */
export function watchWindows(): () => void {
  return useWorkspace.subscribe((now, before) => {
    if (now.item !== before.item) {
      Object.assign(history, { back: [], forth: [] });
      return;
    }
    const [length, former] = [lengthOf(now.view), lengthOf(before.view)];
    const isZoom = length === null || former === null ? length !== former : Math.abs(length - former) > 1e-9 * former;
    if (!isZoom || isGoing) return;
    const at = performance.now();
    if (at - zoomedAt > TOGETHER_MS) {
      history.back = [...history.back, before.view].slice(-MOST);
      history.forth = [];
    }
    zoomedAt = at;
  });
}

/** Shows the window that was looked at before, or the one that was gone back from. */
export function goToWindow(direction: "back" | "forth"): void {
  const opposite = direction === "back" ? "forth" : "back";
  const window = history[direction].pop();
  if (window === undefined) return;
  history[opposite].push(useWorkspace.getState().view);
  isGoing = true;
  useWorkspace.setState({ view: window });
  isGoing = false;
  zoomedAt = -Infinity;
}
