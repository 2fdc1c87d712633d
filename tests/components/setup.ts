/** Components are taken out of the document after each test, and stores of the page are as they began. */
import { cleanup } from "@testing-library/react";
import { afterEach } from "vitest";

// Canvases wait for the fonts and watch their size; without a browser there are neither.
Object.defineProperty(document, "fonts", { value: { ready: Promise.resolve() }, configurable: true });
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

afterEach(() => {
  cleanup();
  localStorage.clear();
});
