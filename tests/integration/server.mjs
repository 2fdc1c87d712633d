// Starts the PostgreSQL server that integration tests share.
import { studioAccount } from "../../scripts/account.mjs";
import { ensureDebianPackages } from "../../scripts/install.mjs";
import { inRoot } from "../../scripts/paths.mjs";
import { discardData, startPostgres } from "../../scripts/postgres.mjs";

export default async function setup(project) {
  ensureDebianPackages(["postgresql"]);
  const folder = inRoot(".build", "test-database");
  discardData(folder);
  const { url, stop } = await startPostgres(folder, studioAccount(folder));
  project.provide("databaseServer", url.replace(/\/[^/]*$/, ""));
  return stop;
}
