import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Webhook, WebhookDelivery } from "@core/webhooks/webhook";
import { answering } from "../../../tests/components/answers";
import { show } from "../../../tests/components/current-item";
import { Webhooks } from "./webhooks";

afterEach(() => vi.unstubAllGlobals());

const webhook = (more: Partial<Webhook> = {}): Webhook => ({
  id: "w",
  url: "https://planner.example/hooks/sound",
  events: ["master.verified", "master.reviewed"],
  project_id: null,
  created_at: "2026-11-30T03:00:00Z",
  gone: false,
  waiting: 0,
  ...more,
});
const delivery = (more: Partial<WebhookDelivery>): WebhookDelivery => ({
  ...{ id: "d", event: "master.verified", state: "delivered", attempts: 1, status: 200, problem: null },
  ...{ created_at: "2026-11-30T03:00:00Z", next_at: null },
  ...more,
});

describe("webhooks", () => {
  it("are made for an address and what is chosen, and the secret is shown once", async () => {
    const asked = answering({
      "GET projects": [{ id: "p", name: "Tide" }],
      "GET webhooks": [],
      "POST webhooks": { ...webhook(), secret: "whsec_only-once" },
    });
    show(<Webhooks />);
    await userEvent.type(screen.getByRole("textbox", { name: "Address" }), "https://planner.example/hooks/sound");
    await userEvent.click(screen.getByRole("checkbox", { name: "Arrived" }));
    expect(screen.getByText("Nothing is sent anywhere yet.")).toBeTruthy();
    await userEvent.selectOptions(screen.getByLabelText("of"), "Tide");
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    expect(await screen.findByDisplayValue("whsec_only-once")).toBeTruthy();
    expect(asked.find(({ method }) => method === "POST")!.body).toEqual({
      url: "https://planner.example/hooks/sound",
      events: ["master.verified", "recording.arrived"],
      project: "p",
    });
  });

  it("say what is wrong with an address before it is sent, and ask for an event", async () => {
    answering({ "GET projects": [], "GET webhooks": [] });
    show(<Webhooks />);
    const add = () => screen.getByRole("button", { name: "Add" }).hasAttribute("disabled");
    expect(add()).toBe(true);
    await userEvent.type(screen.getByRole("textbox", { name: "Address" }), "http://planner.example");
    expect(screen.getByText(/Outside of the studio's own network/)).toBeTruthy();
    expect(add()).toBe(true);
    await userEvent.clear(screen.getByRole("textbox", { name: "Address" }));
    await userEvent.type(screen.getByRole("textbox", { name: "Address" }), "http://nas.local/x");
    expect(add()).toBe(false);
    await userEvent.click(screen.getByRole("checkbox", { name: "Verified" }));
    expect(add()).toBe(true);
  });

  it("tell what was sent and what became of it; a test is sent, and one is removed", async () => {
    const soon = new Date(Date.now() + 125_000).toISOString();
    const asked = answering({
      "GET projects": [],
      "GET webhooks": [webhook({ waiting: 1 })],
      "GET webhooks/w/deliveries": [
        delivery({ id: "1", state: "waiting", attempts: 2, status: 500, problem: "It answered 500.", next_at: soon }),
        delivery({ id: "2", attempts: 3 }),
        delivery({ id: "3", event: "test", state: "failed", attempts: 9, status: null, problem: "No answer in 10 s." }),
      ],
    });
    show(<Webhooks />);
    const list = within(await screen.findByTestId("webhooks"));
    expect(list.getByText(/verified, approved · 1 waiting/)).toBeTruthy();
    await userEvent.click(list.getByRole("button", { name: "What was sent" }));
    expect(await list.findByText("It answered 500. Tried again in 2 minutes.")).toBeTruthy();
    expect(list.getByText("answered 200 at attempt 3")).toBeTruthy();
    expect(list.getByText("given up after 9 attempts: No answer in 10 s.")).toBeTruthy();
    await userEvent.click(list.getByRole("button", { name: "Send a test" }));
    await userEvent.click(list.getByRole("button", { name: "Remove" }));
    const changes = asked.filter(({ method }) => method !== "GET").map(({ method, path }) => `${method} ${path}`);
    expect(changes).toEqual(["POST webhooks/w/test", "DELETE webhooks/w"]);
  });

  it("lead from the latest deliveries to the earlier ones", async () => {
    const many = Array.from({ length: 50 }, (_, i) => delivery({ id: `d${i}` }));
    answering({
      "GET projects": [],
      "GET webhooks": [webhook()],
      "GET webhooks/w/deliveries": many,
      "GET webhooks/w/deliveries?before=d49": [delivery({ id: "old", status: 204 })],
    });
    show(<Webhooks />);
    await userEvent.click(await screen.findByRole("button", { name: "What was sent" }));
    await userEvent.click(await screen.findByRole("button", { name: "Earlier ones" }));
    expect(await screen.findByText("answered 204")).toBeTruthy();
    expect(screen.getAllByText("answered 200")).toHaveLength(50);
    expect(screen.queryByRole("button", { name: "Earlier ones" })).toBeNull();
  });

  it("of an address that is gone say so", async () => {
    answering({
      "GET projects": [{ id: "p", name: "Tide" }],
      "GET webhooks": [webhook({ gone: true, project_id: "p" })],
    });
    show(<Webhooks />);
    expect(await screen.findByText(/of “Tide” · its address is gone/)).toBeTruthy();
  });
});
