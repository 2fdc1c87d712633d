import { screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { QueuedJob } from "@core/project/views";
import { inWorkspace } from "../../../tests/components/current-item";
import { RenderQueue } from "./render-queue";

const job = (queue: QueuedJob["queue"], subject: string): QueuedJob => ({
  queue,
  subject,
  active: true,
  place: 0,
  secondsLeft: 3,
});

describe("the queue of a project", () => {
  it("names what is done for each job; what nobody waits for is not stopped, it makes room by itself", () => {
    const hash = "a".repeat(64);
    const jobs = [job("prepare", hash), job("search", hash), job("figures", "p/item-1"), job("segment", "x/1")];
    inWorkspace(<RenderQueue cells={[]} />, { view: { jobs } });
    const queue = within(screen.getByTestId("queue"));
    expect(queue.getByText("Reading Low Door.wav")).toBeTruthy();
    expect(queue.getByText("Looking through Low Door.wav")).toBeTruthy();
    expect(queue.getByText("Measuring Low Door after its chain")).toBeTruthy();
    expect(queue.getAllByRole("button", { name: "stop" })).toHaveLength(1);
  });
});
