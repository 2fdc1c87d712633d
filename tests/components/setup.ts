/** Components are taken out of the document after each test, and stores of the page are as they began. */
import { cleanup } from "@testing-library/react";
import { afterEach } from "vitest";

afterEach(() => {
  cleanup();
  localStorage.clear();
});
