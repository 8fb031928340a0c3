import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';

/** What is asked of a page: WCAG 2.2 AA, with axe's own good practice, its contrast alone, or all but its contrast. */
type Asked = 'standard' | 'practice' | 'contrast' | 'layout';

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
const ASKED: Record<Asked, (axe: AxeBuilder) => AxeBuilder> = {
  standard: (axe) => axe.withTags(TAGS),
  practice: (axe) => axe,
  contrast: (axe) => axe.withRules(['color-contrast']),
  layout: (axe) => axe.withTags(TAGS).disableRules(['color-contrast']),
};

/**
 * What of a page breaks the rules of access, each rule with where; none where it keeps them. It is asked in the page itself and not once more
 * in an empty one, which takes twice as long: no page here has frames of other sites. What keeps the rules is not told one by one, which takes a third more.
 */
export async function accessFaults(page: Page, asked: Asked = 'standard'): Promise<string[]> {
  const { violations } = await ASKED[asked](new AxeBuilder({ page }).options({ resultTypes: ['violations'] }).setLegacyMode()).analyze();
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join('; ')}`);
}
