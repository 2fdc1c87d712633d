import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { PersistentWorker, type WorkerLike } from "./persistent-worker";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Workers of which the first so many cannot be loaded. */
function workers(failing: number, message = "") {
  const made: (WorkerLike & { got: unknown[]; ended: boolean })[] = [];
  const make = () => {
    const fails = made.length < failing;
    const worker: (typeof made)[number] = {
      onmessage: null,
      onerror: null,
      got: [],
      ended: false,
      postMessage(sent: unknown) {
        worker.got.push(sent);
        if (!fails) worker.onmessage?.call(worker as never, { data: `${String(sent)}!` } as MessageEvent);
      },
      terminate: () => void (worker.ended = true),
    };
    made.push(worker);
    if (fails) setTimeout(() => worker.onerror?.call(worker as never, { message } as ErrorEvent), 1);
    return worker;
  };
  return { make, made };
}

describe("a worker whose script does not come", () => {
  it.each(["", "Uncaught NetworkError: Failed to execute 'importScripts' on 'WorkerGlobalScope'"])(
    "is started again, and given what was posted to it: %j",
    async (message) => {
      const { make, made } = workers(3, message);
      const worker = new PersistentWorker(make);
      const heard: unknown[] = [];
      worker.onmessage = ({ data }) => heard.push(data);
      const failed = vi.fn();
      worker.onerror = failed;
      worker.postMessage("one");
      worker.postMessage("two");
      await vi.runAllTimersAsync();
      expect(made).toHaveLength(4);
      expect(made.slice(0, 3).every(({ ended }) => ended)).toBe(true);
      expect(heard).toEqual(["one!", "two!"]);
      expect(failed).not.toHaveBeenCalled();
    },
  );
  it("is told of in the end, where it never comes", async () => {
    const { make, made } = workers(99);
    const worker = new PersistentWorker(make);
    const failed = vi.fn();
    worker.onerror = failed;
    worker.postMessage("one");
    await vi.runAllTimersAsync();
    expect(failed).toHaveBeenCalledTimes(1);
    expect(made).toHaveLength(6);
  });
  it("is not started again for faults of its own, nor once it has answered", async () => {
    const broken = workers(99, "RangeError: out of memory");
    const failed = vi.fn();
    new PersistentWorker(broken.make).onerror = failed;
    await vi.runAllTimersAsync();
    expect([failed.mock.calls.length, broken.made.length]).toEqual([1, 1]);
    const { make, made } = workers(0);
    const worker = new PersistentWorker(make);
    worker.onerror = failed;
    worker.postMessage("one");
    made[0]!.onerror?.call(made[0] as never, { message: "" } as ErrorEvent);
    expect([failed.mock.calls.length, made.length]).toEqual([2, 1]);
  });
  it("stays away once it is ended", async () => {
    const { make, made } = workers(99);
    const worker = new PersistentWorker(make);
    await vi.advanceTimersByTimeAsync(2);
    worker.terminate();
    await vi.runAllTimersAsync();
    expect(made).toHaveLength(1);
  });
});
