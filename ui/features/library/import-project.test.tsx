import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { toast } from "sonner";
import { afterEach, describe, expect, it, vi } from "vitest";
import { show } from "../../../tests/components/current-item";
import { ImportProject } from "./import-project";

const { push } = vi.hoisted(() => ({ push: vi.fn() }));
vi.mock("next/navigation", () => ({ useRouter: () => ({ push }) }));
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
  push.mockReset();
});

/** A request that a test answers by hand. */
class HeldRequest {
  static last: HeldRequest;
  upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
  status = 0;
  responseText = "";
  onload = () => undefined;
  onerror = () => undefined;
  opened: [string, string] | null = null;
  body: unknown = null;
  constructor() {
    HeldRequest.last = this;
  }
  open(method: string, path: string) {
    this.opened = [method, path];
  }
  send(body: unknown) {
    this.body = body;
  }
  answer(status: number, body: unknown) {
    this.status = status;
    this.responseText = typeof body === "string" ? body : JSON.stringify(body);
    this.onload();
  }
}

const file = new File(["zip"], "Ferry Songs.resonum.zip", { type: "application/zip" });
async function chosen(): Promise<HeldRequest> {
  vi.stubGlobal("XMLHttpRequest", HeldRequest);
  show(<ImportProject />);
  await userEvent.setup().upload(screen.getByLabelText("Project file"), file);
  return HeldRequest.last;
}

describe("importing a project", () => {
  it("sends the file, tells how far it is, and opens what came of it", async () => {
    const request = await chosen();
    expect(request.opened).toEqual(["POST", "/api/projects/import"]);
    expect(request.body).toBe(file);
    expect(screen.getByRole("status").textContent).toContain("Sending");
    request.upload.onprogress!({ loaded: 3, total: 3 });
    await waitFor(() => expect(screen.getByRole("status").textContent).toContain("Importing"));
    request.answer(200, { id: "p1", missing: [] });
    await waitFor(() => expect(push).toHaveBeenCalledWith("/projects/p1"));
    expect(await screen.findByRole("button", { name: "Import" })).toBeTruthy();
  });

  it("says which recordings did not come with it", async () => {
    const warned = vi.spyOn(toast, "warning");
    (await chosen()).answer(200, { id: "p1", missing: ["Night.wav", "Weir.wav"] });
    await waitFor(() => expect(push).toHaveBeenCalled());
    expect(warned.mock.calls[0]![0]).toBe("2 recordings did not come with it");
    expect(warned.mock.calls[0]![1]!.description).toContain("Night.wav, Weir.wav");
  });

  it.each([
    [422, { title: "No project file", detail: "There is no project.json in it." }, "There is no project.json in it."],
    [502, "<html>", "The server answered 502."],
  ])("says why it was refused: %i", async (status, answer, words) => {
    const failed = vi.spyOn(toast, "error");
    (await chosen()).answer(status, answer);
    await waitFor(() => expect(failed).toHaveBeenCalledOnce());
    expect(failed.mock.calls[0]).toEqual([
      "“Ferry Songs.resonum.zip” was not imported",
      expect.objectContaining({ description: words }),
    ]);
    expect(push).not.toHaveBeenCalled();
  });

  it("says that the server is gone", async () => {
    const failed = vi.spyOn(toast, "error");
    (await chosen()).onerror();
    await waitFor(() => expect(failed.mock.calls[0]![1]!.description).toMatch(/does not answer/));
  });
});
