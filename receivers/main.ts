/** The simulated receivers, each on a port of its own. They tell their addresses to the process that started them. */
import { join } from "node:path";
import { serve } from "./answer";
import { ingest } from "./ingest";
import { podcastHost } from "./podcast-host";

const [folder, podcastPort = "0", ingestPort = "0"] = process.argv.slice(2);
if (!folder) throw new Error("say in which folder the receivers keep what they accept");

const podcast = await serve(Number(podcastPort), podcastHost(join(folder, "podcast-host")));
const broadcaster = await serve(Number(ingestPort), ingest(join(folder, "ingest")));
process.send?.({ podcast: `http://127.0.0.1:${podcast}`, ingest: `http://127.0.0.1:${broadcaster}` });
if (process.channel) process.once("disconnect", () => process.exit(0));
process.once("SIGTERM", () => process.exit(0));
