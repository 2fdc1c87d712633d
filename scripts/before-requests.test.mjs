import { createServer } from "node:http";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { isDecodable, noteAddress } from "./before-requests.mjs";

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

describe("where a request comes from", () => {
  const noted = (peer, headers, proxies = []) => {
    const request = { socket: { remoteAddress: peer }, headers: { ...headers } };
    noteAddress(request, proxies);
    return request.headers;
  };
  it("is who is connected, whatever they say of themselves", () => {
    const told = { "x-resonum-address": "127.0.0.1", "x-forwarded-for": "127.0.0.1", "x-forwarded-host": "a.example" };
    expect(noted("192.0.2.1", told)).toEqual({ "x-resonum-address": "192.0.2.1" });
    expect(noted("::ffff:127.0.0.1", {})).toEqual({ "x-resonum-address": "127.0.0.1" });
    expect(noted(undefined, told)).toEqual({});
  });
  it("is whom a proxy that is believed names last", () => {
    const told = { "x-forwarded-for": "203.0.113.1, 192.0.2.9" };
    expect(noted("10.0.0.1", told, ["10.0.0.1"])["x-resonum-address"]).toBe("192.0.2.9");
    expect(noted("10.0.0.2", told, ["10.0.0.1"])["x-resonum-address"]).toBe("10.0.0.2");
    expect(noted("10.0.0.1", {}, ["10.0.0.1"])["x-resonum-address"]).toBe("10.0.0.1");
  });
});
