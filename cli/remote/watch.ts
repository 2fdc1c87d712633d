/** What arrives in a watched folder goes through a project of a studio. */
import { formatDb } from "@core/audio/format";
import { messageOf, print } from "../outcome";
import { fetchMasters, type Fetched } from "./fetch";
import { pushOne, type Pushed } from "./push";
import { renderProjectThere } from "./render";
import { projectOf, studioOf, type RemoteOptions } from "./studio";

interface Options extends RemoteOptions {
  out: string;
}

/** Sends a recording, renders what is not rendered yet, and fetches it. A file that fails keeps the others from nothing. */
export async function pushAndFetch(
  path: string,
  options: Options,
): Promise<(Pushed | Fetched | { file: string; problem: string })[]> {
  try {
    const client = studioOf(options);
    const project = await projectOf(client, options);
    const pushed = await pushOne(client, path, project, options);
    const masters = pushed.state === "failed" ? [] : await renderProjectThere(client, project, options);
    const fetched = (await fetchMasters(client, project, options.out)).filter(({ state }) => state === "fetched");
    if (!options.json) {
      print(`${pushed.state.padEnd(15)}${path}${pushed.problem ? `: ${pushed.problem}` : ""}`);
      for (const { file } of fetched) print(`${"fetched".padEnd(15)}${file}${levelOf(file, masters)}`);
    }
    return [pushed, ...fetched];
  } catch (error) {
    process.stderr.write(`resonum: ${path}: ${messageOf(error)}\n`);
    return [{ file: path, problem: messageOf(error) }];
  }
}

function levelOf(file: string, masters: Awaited<ReturnType<typeof renderProjectThere>>): string {
  const figures = masters.find(({ file_name: name }) => file.endsWith(name))?.master?.result?.figures;
  return figures ? `: ${formatDb(figures.integratedLufs)} LUFS, ${formatDb(figures.truePeakDbtp)} dBTP` : "";
}
