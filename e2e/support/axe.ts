import axe from 'axe-core';
import type { Page } from '@playwright/test';

const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

/** Runs the automatic check in the page and gives each violation with where it is. */
export async function violations(page: Page): Promise<string[]> {
  await page.evaluate(axe.source);
  return page.evaluate(async (tags) => {
    const { axe: checker } = window as unknown as { axe: typeof axe };
    const { violations: found } = await checker.run(document, { runOnly: { type: 'tag', values: tags } });
    return found.flatMap((one) =>
      one.nodes.map((node) => `${one.id}: ${node.target.join(' ')} (${node.failureSummary ?? ''})`),
    );
  }, RULES);
}
