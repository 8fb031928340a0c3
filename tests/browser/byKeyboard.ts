import type { Locator, Page } from 'playwright-core';
import { expect } from 'vitest';

/** Presses Tab until something has the focus, as a person without a mouse does. */
export async function tabTo(page: Page, target: Locator): Promise<void> {
  const handle = await target.elementHandle();
  for (let i = 0; i < 400; i++) {
    if (await handle?.evaluate((el) => el === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`Tab never reached ${target}.`);
}

/** Types into a field that is reached by Tab. */
export async function type(page: Page, label: string | RegExp, text: string, scope: Page | Locator = page): Promise<void> {
  await tabTo(page, scope.getByLabel(label, typeof label === 'string' ? { exact: true } : {}).first());
  await page.keyboard.press('Control+A');
  await page.keyboard.type(text);
}

/** Presses a link or a button that is reached by Tab. */
export async function press(page: Page, role: 'link' | 'button', name: string | RegExp): Promise<void> {
  await tabTo(page, page.getByRole(role, typeof name === 'string' ? { name, exact: true } : { name }).first());
  await page.keyboard.press('Enter');
}

/** Chooses an option by typing its beginning, as a closed list takes it. */
export async function choose(page: Page, label: string, words: string): Promise<void> {
  const list = page.getByLabel(label, { exact: true }).first();
  await tabTo(page, list);
  await page.keyboard.type(words, { delay: 20 });
  await expect.poll(() => list.evaluate((el: HTMLSelectElement) => el.selectedOptions[0]?.text ?? '')).toMatch(new RegExp(`^${words}`));
}
