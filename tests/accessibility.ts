/** What accessibility checks find in a page, in words. */
import { AxeBuilder } from "@axe-core/playwright";
import type { Page } from "@playwright/test";

interface Asked {
  /** Only below such an element. */
  part?: string | undefined;
  /** Only these rules; else those of WCAG 2 A and AA. */
  rules?: string[];
  /** Every rule that the checker has. */
  all?: boolean;
}

export async function accessibilityFaults(page: Page, { part, rules, all = false }: Asked = {}): Promise<string[]> {
  // One page without foreign frames: axe runs in it, without another page that puts frames together.
  const axe = new AxeBuilder({ page }).setLegacyMode(true);
  if (part) axe.include(part);
  if (rules) axe.withRules(rules);
  else if (!all) axe.withTags(["wcag2a", "wcag2aa"]);
  const { violations } = await axe.analyze();
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target.join()).join("; ")}`);
}
