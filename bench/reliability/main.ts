/** `npm run bench -- reliability [kills N] [files N] [page N] [fuzz SECONDS] [soak SECONDS] [crowd N] [states N]` */
import { crowdTest } from "./crowd";
import { filesTest } from "./files";
import { fuzzTest } from "./fuzz";
import { killTest } from "./kills";
import { pageTest } from "./page";
import { soakTest } from "./soak";
import { statesTest } from "./states";

const say = (words: string) => void process.stdout.write(`${words}\n`);
const tell = (words: string) => void process.stderr.write(`  ${words}\n`);

/** What is tried, and how much of it unless it is said. */
const USUAL: Readonly<Record<string, number>> = {
  kills: 1000,
  files: 10_000,
  page: 1000,
  fuzz: 600,
  soak: 1440,
  crowd: 200,
  states: 100_000,
};

const asked = process.argv.slice(2);
const amounts = Object.keys(USUAL).flatMap((name): [string, number][] => {
  const at = asked.indexOf(name);
  if (at < 0) return asked.length === 0 ? [[name, USUAL[name]!]] : [];
  return [[name, Number(asked[at + 1]) || USUAL[name]!]];
});

function end(faults: readonly string[]): void {
  for (const fault of faults) say(`  FAULT: ${fault}`);
  if (faults.length > 0) process.exitCode = 1;
}

const percentile = (list: readonly number[], share: number): number =>
  list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0;

const TRIALS: Readonly<Record<string, (amount: number) => Promise<void>>> = {
  async kills(count) {
    const { kills, recoveries, answered, faults } = await killTest(count, tell);
    say(
      `${count} kills (${Object.entries(kills)
        .map(([part, n]) => `${part} ${n}`)
        .join(", ")}): ` +
        `${answered.edits} edits, ${answered.uploads} uploads, ${answered.masters} masters and ${answered.submissions} hand-overs were answered; ${faults.length} faults. ` +
        `The web server answered again after ${(percentile(recoveries, 0.5) / 1000).toFixed(1)} s (median), ${(percentile(recoveries, 0.95) / 1000).toFixed(1)} s (95th percentile).`,
    );
    end(faults);
  },
  async files(count) {
    const { measured, refused, slowestBatchSecondsAFile, faults } = await filesTest(count, tell);
    say(
      `${count} damaged files by the command line: ${measured} measured, ${refused} refused in words, at most ${slowestBatchSecondsAFile.toFixed(2)} s a file in a batch; ${faults.length} faults.`,
    );
    end(faults);
  },
  async page(count) {
    const { measured, refused, seconds, faults } = await pageTest(count, tell);
    say(
      `${count} damaged files by the page: ${measured} measured, ${refused} refused in words, at most ${seconds.toFixed(2)} s a file in a batch; ${faults.length} faults.`,
    );
    end(faults);
  },
  async states(count) {
    const { states, edits, opens } = await statesTest(count);
    say(
      `At ${states} states an edit is answered after ${percentile(edits, 0.5).toFixed(1)} ms (median), ${percentile(edits, 0.95).toFixed(1)} ms (95th percentile); the project opens in ${percentile(opens, 0.5).toFixed(0)} ms.`,
    );
  },
  async fuzz(seconds) {
    const { runs, corpus, blocks, faults } = await fuzzTest(seconds);
    say(
      `${runs} damaged files through the core's readers in ${seconds} s; ${blocks} blocks of code reached, a corpus of ${corpus}; ${faults.length} faults.`,
    );
    end(faults);
  },
  async soak(seconds) {
    const hours = await soakTest(seconds, tell);
    const [early, late] = [hours[7]!, hours.at(-1)!];
    say(
      `A day in ${seconds} s, ${late.edits} edits: web ${early.webMegabytes} → ${late.webMegabytes} MB (8th and 24th hour), worker ${early.workerMegabytes} → ${late.workerMegabytes} MB, ` +
        `temporary files ${late.temporaryFiles}, upload files ${late.uploadFiles}, jobs ${late.jobs}, connections ${early.connections} → ${late.connections}, blobs ${late.blobs} of which ${late.unreferenced} wait for the sweeper.`,
    );
  },
  async crowd(count) {
    for (const { route, answered, comeAgain, other, seconds, webMegabytes } of await crowdTest(count)) {
      say(
        `${route.startsWith("a body of 400") ? 1 : count} at once to ${route}: ${answered} answered, ${comeAgain} told to come again or refused, ${other} otherwise, ${seconds.toFixed(1)} s; web at most ${webMegabytes} MB so far.`,
      );
      if (other > 0) process.exitCode = 1;
    }
  },
};

for (const [name, amount] of amounts) await TRIALS[name]!(amount);
