import type { Page } from 'playwright-core';

/** The second press on a feed's key; further from the show's plan than a quarter of an hour, the desk asks first. */
export function startNow(page: Page): Promise<void> {
  const second = page.getByRole('button', { name: 'Start now' });
  const offPlan = page.getByRole('button', { name: 'Go on air now' });
  return second.or(offPlan).click();
}
