import { describe, expect, it } from "vitest";
import { readBody, refuseBrokenText } from "./request-body";

function streamed(chunks: number, bytes: number) {
  let sent = 0;
  const body = new ReadableStream<Uint8Array>(
    {
      pull(controller) {
        if (sent++ < chunks) controller.enqueue(new Uint8Array(bytes));
        else controller.close();
      },
    },
    { highWaterMark: 0 },
  );
  const request = new Request("http://127.0.0.1/x", { method: "POST", body, duplex: "half" } as RequestInit);
  return { request, sent: () => sent };
}

describe("the body of a request", () => {
  it("is read to its end where it fits", async () => {
    expect(await readBody(streamed(4, 100).request, 400)).toHaveLength(400);
    expect(await readBody(new Request("http://127.0.0.1/x"), 10)).toHaveLength(0);
  });
  it("is refused while it arrives, long before its end", async () => {
    const { request, sent } = streamed(10_000, 1 << 16);
    await expect(readBody(request, 1 << 20)).rejects.toMatchObject({ status: 413 });
    expect(sent()).toBeLessThan(25);
  });
  it("is refused by what it announces", async () => {
    const request = new Request("http://127.0.0.1/x", {
      method: "POST",
      body: "x",
      headers: { "Content-Length": "999" },
    });
    await expect(readBody(request, 10)).rejects.toMatchObject({ status: 413 });
  });
});

describe("text that no database keeps", () => {
  it.each([
    [{ name: "a\u0000b" }, "name"],
    [{ command: { markers: [{ name: "ok" }, { name: "\ud83c" }] } }, "command.markers.1.name"],
    [{ "fi\u0000eld": 1 }, "name of a field"],
    ["\udc00", "request"],
  ])("is refused with where it stands: %j", (given, where) => {
    expect(() => refuseBrokenText(given)).toThrow(new RegExp(`^${where}: holds a sign`));
  });
  it("is no other text", () => {
    expect(() => refuseBrokenText({ a: ["\u{1f409}", "é", 1, null, true, { b: "" }] })).not.toThrow();
  });
});
