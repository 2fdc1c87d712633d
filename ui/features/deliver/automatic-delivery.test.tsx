import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import type { Deliverable } from "@core/project/document";
import type { AutomaticDelivery } from "@core/project/views";
import { answering } from "../../../tests/components/answers";
import { inWorkspace } from "../../../tests/components/current-item";
import { AutomaticLine } from "./automatic-delivery";
import { DeliverableDialog } from "./deliverable-dialog";

const RECEIVERS = [
  { id: "latest", name: "Folder with the latest", help: "Always the same paths." },
  { id: "ingest", name: "Longshore Radio, ingest", help: "A simulated broadcaster." },
];
beforeEach(() => void answering({ "GET receivers": RECEIVERS }));

const given = (receiver: string | null): Deliverable => ({
  ...{ id: "d1", spec: "streaming-14", format: newFormat(), programme: "one file" },
  automatic: { receiver },
});

describe("automatic delivery", () => {
  const dialog = (deliverable: Deliverable) =>
    inWorkspace(<DeliverableDialog wanted={{ kind: "edit", deliverable }} onClose={vi.fn()} />, { template: "music" });
  const keep = () => userEvent.setup().click(screen.getByRole("button", { name: "Keep it" }));

  it("is switched on with who is given the masters", async () => {
    const { document } = dialog({ id: "d1", spec: "streaming-14", format: newFormat(), programme: "one file" });
    const user = userEvent.setup();
    await user.click(screen.getByRole("checkbox", { name: "Automatic delivery" }));
    await user.selectOptions(
      screen.getByRole("combobox", { name: "To" }),
      await screen.findByRole("option", { name: "Folder with the latest" }),
    );
    expect(screen.getByText("Always the same paths.")).toBeTruthy();
    await keep();
    expect(document().deliverables[0]).toMatchObject({ programme: "one file", automatic: { receiver: "latest" } });
  });

  it("is switched off, and the rest of the deliverable stays", async () => {
    const { document } = dialog(given("ingest"));
    await userEvent.setup().click(screen.getByRole("checkbox", { name: "Automatic delivery" }));
    await keep();
    expect(document().deliverables[0]).not.toHaveProperty("automatic");
    expect(document().deliverables[0]).toMatchObject({ id: "d1", programme: "one file" });
  });
});

describe("the line of an automatic delivery", () => {
  const line = (standing: Partial<AutomaticDelivery> | null, receiver: string | null = "latest") => {
    const automatic = standing
      ? [
          {
            deliverable_id: "d1",
            head: 1,
            state: "done" as const,
            problem: null,
            changed_at: "2026-01-01T14:02:00",
            ...standing,
          },
        ]
      : [];
    inWorkspace(<AutomaticLine deliverable={given(receiver)} />, { view: { automatic } });
    return screen.getByTestId("automatic");
  };

  it("tells what is done, of the state as it is", () => {
    expect(line({}).textContent).toBe("submitted at 14:02");
    expect(screen.getByTestId("automatic").className).toContain("text-soft");
  });

  it.each([
    [null, "latest", "waits until the project stands still"],
    [{ head: 0 }, "latest", "waits until the project stands still"],
    [{ state: "rendering" }, "latest", "masters are rendered …"],
    [{ state: "rendering", problem: "“Reed” is still being read." }, "latest", "waits: “Reed” is still being read."],
    [{ state: "submitting" }, "latest", "is submitted …"],
    [{}, null, "rendered at 14:02"],
  ] as const)("says of %j to %s: %s", (standing, receiver, words) => {
    expect(line(standing, receiver).textContent).toBe(words);
  });

  it("is plain to see where it is held, with the reason", () => {
    const held = line({ state: "held", problem: "“Reed” fails its specification: nothing was submitted." });
    expect(held.textContent).toMatch(/^held: “Reed” fails/);
    expect(held.className).toContain("text-outside");
  });

  it("is not there where masters are asked for by hand", () => {
    const { automatic: _, ...byHand } = given(null);
    inWorkspace(<AutomaticLine deliverable={byHand} />);
    expect(screen.queryByTestId("automatic")).toBeNull();
  });
});
