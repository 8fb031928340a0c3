import type { Page } from 'playwright-core';

/** The hands of a tester: what is pressed and what is filled in is counted, so that a job can be held against a notebook. */
export function handsOn(page: Page) {
  const count = { clicks: 0, fields: 0 };
  const field = (label: string | RegExp) => page.getByRole('textbox', { name: label }).or(page.getByRole('combobox', { name: label }));
  return {
    count,
    press: async (name: string | RegExp) => {
      count.clicks++;
      await page.getByRole('button', { name }).click();
    },
    tick: async (name: string | RegExp) => {
      count.clicks++;
      await page.getByLabel(name).first().check();
    },
    fill: async (label: string | RegExp, text: string) => {
      count.fields++;
      await field(label).first().fill(text);
    },
    select: async (label: string | RegExp, choice: string) => {
      count.fields++;
      await page.getByRole('combobox', { name: label }).first().selectOption({ label: choice });
    },
    /** cells copied from a spreadsheet are one act, however many they are */
    paste: async (label: string | RegExp, text: string) => {
      count.fields++;
      await field(label).first().focus();
      await page.evaluate((clip) => {
        const clipboardData = new DataTransfer();
        clipboardData.setData('text/plain', clip);
        document.activeElement?.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
      }, text);
    },
  };
}
