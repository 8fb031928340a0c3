import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';

/** What of a page breaks the rules of access (WCAG 2.2 AA), each rule with where; none where it keeps them. */
export async function accessFaults(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze();
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join('; ')}`);
}
