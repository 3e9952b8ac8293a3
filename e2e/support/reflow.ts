import type { Page } from '@playwright/test';

/**
 * What cannot be seen or reached at the page's present size (WCAG 2.2, 1.4.10): the page itself scrolls sideways, or
 * something that is operated or read stands outside the window or is cut off by what surrounds it. What scrolls by
 * itself may hold more than it shows; sideways that is only for tables.
 */
export async function cutOff(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const found: string[] = [];
    const { scrollWidth, clientWidth } = document.documentElement;
    if (scrollWidth > clientWidth)
      found.push(`the page is ${scrollWidth} wide in a window of ${clientWidth}`);
    /** Rounding, and the halves of borders. */
    const ROUNDING = 2;

    const named = (element: Element): string => {
      const text = element.getAttribute('aria-label') ?? element.textContent ?? '';
      return `${element.tagName.toLowerCase()}.${element.className} “${text.trim().replace(/\s+/g, ' ').slice(0, 50)}”`;
    };
    const isMeant = (element: Element): boolean =>
      element.checkVisibility({ visibilityProperty: true, opacityProperty: true }) &&
      !element.closest('.visually-hidden, .skip, [aria-hidden="true"], [inert]');

    for (const element of Array.from(
      document.querySelectorAll('a, button, input, select, textarea, summary, h1, h2, h3, p, td, th'),
    )) {
      if (!isMeant(element)) continue;
      const box = element.getBoundingClientRect();
      if (box.width === 0 || box.height === 0) continue;
      let scrollsX = false;
      let scrollsY = false;
      for (let around = element.parentElement; around; around = around.parentElement) {
        const { overflowX, overflowY, position } = getComputedStyle(around);
        const frame = around.getBoundingClientRect();
        const isTop = around === document.documentElement || around === document.body;
        if (isTop) break;
        if (
          !scrollsX &&
          /hidden|clip/.test(overflowX) &&
          (box.right > frame.right + ROUNDING || box.left < frame.left - ROUNDING)
        )
          found.push(`cut off at the side: ${named(element)}`);
        if (
          !scrollsY &&
          /hidden|clip/.test(overflowY) &&
          (box.bottom > frame.bottom + ROUNDING || box.top < frame.top - ROUNDING)
        )
          found.push(`cut off above or below: ${named(element)}`);
        if (/auto|scroll/.test(overflowX) && around.scrollWidth > around.clientWidth + ROUNDING) {
          if (!element.closest('table')) found.push(`to be scrolled to sideways: ${named(element)}`);
          scrollsX = true;
        }
        if (/auto|scroll/.test(overflowY)) scrollsY = true;
        if (position === 'fixed') break;
      }
      if (!scrollsX && (box.right > clientWidth + ROUNDING || box.left < -ROUNDING))
        found.push(`outside the window: ${named(element)}`);
    }
    return [...new Set(found)];
  });
}
