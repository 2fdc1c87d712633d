import { afterEach, describe, expect, it, vi } from "vitest";
import { ApiClient } from "@core/api/client";
import { pathBelow } from "./fetch";
import { codeOf } from "./render";
import { projectOf, projectsNamed, serverOf } from "./studio";

afterEach(() => vi.unstubAllEnvs());

const summary = (id: number, name: string, shelf: string | null = null) => ({ id: `p${id}`, name, shelf });

/** A studio with these projects, told by pages of 200. */
function studio(projects: ReturnType<typeof summary>[]) {
  const asked: string[] = [];
  const fetch = (async (url: string) => {
    asked.push(url);
    const { searchParams } = new URL(url);
    const from = projects.findIndex(({ id }) => id === searchParams.get("after")) + 1;
    return Response.json(projects.slice(from, from + Number(searchParams.get("limit"))));
  }) as typeof globalThis.fetch;
  return { client: new ApiClient({ server: "https://studio.example", fetch }), asked };
}

describe("the studio that is meant", () => {
  it("is an address with its token, by option or environment", () => {
    vi.stubEnv("RESONUM_TOKEN", "rs_environment");
    expect(serverOf({ server: "https://studio.example/projects/x" })).toEqual({
      ...{ server: "https://studio.example", token: "rs_environment" },
    });
    expect(serverOf({ server: "http://127.0.0.1:4600", token: "rs_option" }).token).toBe("rs_option");
    vi.stubEnv("RESONUM_TOKEN", "");
    expect(serverOf({ server: "https://studio.example" })).toEqual({ server: "https://studio.example" });
  });

  it("is refused where the token could be read on the way, or the address is none", () => {
    expect(() => serverOf({ server: "http://studio.example" })).toThrow(/not encrypted/);
    for (const server of ["", "studio", "file:///etc/passwd"])
      expect(() => serverOf({ server })).toThrow(/asks for the address of a studio/);
  });
});

describe("the project that is meant", () => {
  const many = Array.from({ length: 450 }, (_, i) => summary(i, i % 2 ? "Tide" : `Project ${i}`));

  it("is found by its name on any page, archive and bin left out", async () => {
    const { client, asked } = studio([...many, summary(900, "Ebb", "bin"), summary(901, "Ebb")]);
    expect(await projectsNamed(client, "Ebb")).toEqual(["p901"]);
    expect(asked).toHaveLength(3);
  });

  it("is asked for again where there is none of the name, or several", async () => {
    const { client } = studio(many);
    await expect(projectOf(client, { project: "Ebb" })).rejects.toThrow(/no project “Ebb”/);
    await expect(projectOf(client, { project: "Tide" })).rejects.toThrow(/Several projects/);
    await expect(projectOf(client, {})).rejects.toThrow(/Say which project/);
  });

  it("is taken by its id without asking", async () => {
    const { client, asked } = studio([]);
    const id = "5b0e3d4e-8f2a-4a67-9a3e-0d5b6f1c2a10";
    expect(await projectOf(client, { project: id })).toBe(id);
    expect(asked).toEqual([]);
  });
});

describe("what comes from a server", () => {
  it("is written below the folder and nowhere else", () => {
    expect(pathBelow("out", "Tide - 01.wav")).toBe("out/Tide - 01.wav");
    for (const name of ["../x", "/etc/passwd", "a/b", "..", ".", ""])
      expect(() => pathBelow("out", name)).toThrow(/lead out of/);
  });

  it("decides the exit code: missing, outside, or well", () => {
    const outcome = (state: string, pass: boolean | null) =>
      ({
        ...{
          item: "i",
          deliverable: "d",
          file: "f",
          sha256: null,
          integratedLufs: null,
          truePeakDbtp: null,
          problem: null,
        },
        ...{ state, pass },
      }) as Parameters<typeof codeOf>[0][number];
    expect(codeOf([outcome("done", true), outcome("done", null)])).toBe(0);
    expect(codeOf([outcome("done", true), outcome("done", false)])).toBe(1);
    expect(codeOf([outcome("failed", null), outcome("done", false)])).toBe(2);
  });
});
