import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { readConfig } from "./config";

describe("settings from the environment", () => {
  it("have a default for a studio on one machine", () => {
    const config = readConfig({});
    expect(config.dataFolder).toBe(join(process.cwd(), "data"));
    expect(config.submissionsFolder).toBe(join(process.cwd(), "data", "handed over"));
    expect(config.maxUploadBytes).toBe(64 * 2 ** 30);
    expect(config.s3.region).toBe("local");
  });
  it("put what belongs to the data folder below it", () => {
    expect(readConfig({ RESONUM_DATA: "/srv/sound" }).submissionsFolder).toBe("/srv/sound/handed over");
    expect(readConfig({ RESONUM_DATA: "/srv/sound", RESONUM_SUBMISSIONS: "/srv/out" }).submissionsFolder).toBe(
      "/srv/out",
    );
  });
  it("are read by a former name as well, the present one first", () => {
    expect(readConfig({ RESONUM_HANDOVER: "/srv/old" }).submissionsFolder).toBe("/srv/old");
    expect(readConfig({ RESONUM_HANDOVER: "/srv/old", RESONUM_SUBMISSIONS: "/srv/new" }).submissionsFolder).toBe(
      "/srv/new",
    );
  });
  it.each([
    ["RESONUM_MAX_UPLOAD_BYTES", "64 GB", /“64 GB” is no number of bytes/],
    ["RESONUM_KEEP_FREE_BYTES", "-1", /“-1” is no number of bytes/],
    ["RESONUM_KEEP_ITEM_RENDERS_DAYS", "", /“” is no number of days/],
    ["RESONUM_STORE", "ftp://shelf", /a folder, or “s3:\/\/bucket\/prefix”/],
  ])("%s=%s is refused by its name", (name, value, words) => {
    expect(() => readConfig({ [name]: value })).toThrow(words);
    expect(() => readConfig({ [name]: value })).toThrow(name);
  });
  it("names all that is wrong at once", () => {
    expect(() => readConfig({ RESONUM_MAX_UPLOAD_BYTES: "many", RESONUM_KEEP_FREE_BYTES: "some" })).toThrow(
      /RESONUM_MAX_UPLOAD_BYTES.*RESONUM_KEEP_FREE_BYTES/,
    );
  });
  it.each(["/srv/blobs", "blobs", "s3://shelf/one"])("a store may be %s", (store) => {
    expect(readConfig({ RESONUM_STORE: store }).store).toBe(store);
  });
});
