import type { SoughtEvents, SoughtKind } from "../events/sought-events";
import { counted } from "../audio/format";
import type { Finder, Finding } from "./finding";

interface Words {
  one: string;
  many?: string;
  facts: string;
  advice: string;
  severity?: Finding["severity"];
}

const WORDS: Record<SoughtKind, Words> = {
  clicks: {
    one: "click",
    facts: "Shorter than what the voice or an instrument makes, and standing out of everything around.",
    advice: "Listen to some of them, then take them away.",
  },
  "mouth-noise": {
    one: "mouth noise",
    many: "places with mouth noise",
    facts: "Smacks and ticks of lips and tongue, beside and within words.",
    advice: "Take them away before any compression: gain lifts them.",
  },
  breaths: {
    one: "breath",
    facts: "Soft noise between phrases.",
    advice: "Most belong there; lower those that are heard as such.",
    severity: "note",
  },
  plosives: {
    one: "plosive",
    facts: "Swells below 150 Hz at p and b, far above the voice's own.",
    advice: "Lower the lows there.",
  },
};

/** What was found in the background after intake. */
export const events: Finder = {
  kind: "events",
  find: (_figures, _spec, sought: readonly SoughtEvents[]) =>
    sought.map(({ kind, count, places }) => {
      const { one, many, facts, advice, severity = "doubt" } = WORDS[kind];
      const title = count !== 1 && many ? `${count} ${many}` : counted(count, one);
      return { about: kind, severity, title, facts, advice, places };
    }),
};
