import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { openApiDocument } from "@core/api/open-api";
import { answering } from "../../../tests/components/answers";
import { show } from "../../../tests/components/current-item";
import { ApiReference } from "./api-reference";
import { curlOf, found, operationsOf, typeWords, type Description } from "./description";

const description = JSON.parse(JSON.stringify(openApiDocument("7"))) as Description;
const operations = operationsOf(description);
const named = (id: string) => operations.find(({ operationId }) => operationId === id)!;

describe("the reference of the API", () => {
  it("lists endpoints by what they are about, finds them by words, and shows one", async () => {
    answering({ "GET openapi.json": description });
    show(<ApiReference />);
    const list = await screen.findByRole("navigation", { name: "Endpoints" });
    expect(within(list).getAllByRole("button").length).toBeGreaterThan(70);
    fireEvent.change(within(list).getByRole("textbox"), { target: { value: "masters report" } });
    const found = within(list).getByRole("button", { name: /masters\/\{master\}\/report/ });
    fireEvent.click(found);
    expect(found.getAttribute("aria-current")).toBe("true");
    const shown = screen.getByRole("article", { name: "getMasterReport" });
    expect(shown.textContent).toContain("The check report of a finished master.");
    expect(shown.textContent).toContain("A file: text/html, application/pdf");
    fireEvent.change(within(list).getByRole("textbox"), { target: { value: "zither" } });
    expect(list.textContent).toContain("No endpoint has these words.");
  });

  it("opens what has fields of its own", async () => {
    answering({ "GET openapi.json": description });
    show(<ApiReference />);
    fireEvent.click(await screen.findByRole("button", { name: /GET \/masters\/\{master\}$/ }));
    const shown = screen.getByRole("article", { name: "getMaster" });
    expect(shown.textContent).not.toContain("LUFS");
    fireEvent.click(within(shown).getByRole("button", { name: "result" }));
    fireEvent.click(within(shown).getByRole("button", { name: "figures" }));
    expect(shown.textContent).toContain("Integrated loudness, LUFS (ITU-R BS.1770).");
  });

  it("says why there is none", async () => {
    answering({ "GET openapi.json": new Error("The studio is being restarted.") });
    show(<ApiReference />);
    expect(await screen.findByText("The studio is being restarted.", {}, { timeout: 8000 })).toBeTruthy();
  });
});

describe("a description in words", () => {
  it("tells types as they are read", () => {
    expect(typeWords({ type: "array", items: { $ref: "#/components/schemas/Master" } })).toBe("list of Master");
    expect(typeWords({ anyOf: [{ type: "string" }, { type: "null" }] })).toBe("string or null");
    expect(typeWords({ enum: ["html", "pdf"] })).toBe('"html", "pdf"');
    expect(typeWords({ type: "string", format: "uuid" })).toBe("uuid");
    expect(typeWords({})).toBe("anything");
  });

  it("finds by all words, anywhere in what is said", () => {
    expect([...found(operations, "post presence").values()].flat().map((one) => one.operationId)).toEqual([
      "tellPresence",
    ]);
    expect([...found(operations, "").keys()]).toEqual([
      ...["projects", "recordings", "masters", "reviews", "comments", "people", "account", "operations", "webhooks"],
    ]);
  });

  it("writes a request as curl sends it", () => {
    const curl = curlOf(named("importProject"), "https://studio.example");
    expect(curl).toContain("curl -X POST 'https://studio.example/api/projects/import'");
    expect(curl).toContain("--data-binary @file -H 'Content-Type: application/zip'");
    expect(curlOf(named("createProject"), "")).toContain("--json '…'");
  });
});
