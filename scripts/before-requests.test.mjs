import { createServer } from "node:http";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { isDecodable } from "./before-requests.mjs";

let server;
let address;
beforeAll(async () => {
  server = createServer((_, response) => response.end("here"));
  await new Promise((resolve) => server.listen(0, "127.0.0.1", resolve));
  address = `http://127.0.0.1:${server.address().port}`;
});
afterAll(() => new Promise((resolve) => server.close(resolve)));

describe("an address", () => {
  it.each(["/", "/api/projects/1", "/a%20b", "/%E2%84%A2", "/x?q=%ff", "/x#%zz"])("%s is passed on", async (path) => {
    expect(isDecodable(path)).toBe(true);
    expect(await (await fetch(address + path)).text()).toBe("here");
  });
  it.each(["/api/projects/%ff", "/%", "/%E0%A4%A", "/projects/%c3%28/x?q=1"])("%s is a bad request", async (path) => {
    expect(isDecodable(path)).toBe(false);
    const answer = await fetch(address + path);
    expect(answer.status).toBe(400);
    expect(await answer.json()).toMatchObject({ title: "Not valid", status: 400 });
  });
});
