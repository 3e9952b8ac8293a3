/** Waits until something holds; fails the spec when it does not for this long. */
export async function until(
  what: string,
  holds: () => boolean | Promise<boolean>,
  patienceMs = 45_000,
): Promise<void> {
  for (const endMs = Date.now() + patienceMs; !(await holds());) {
    if (Date.now() > endMs) throw new Error(`waited in vain until ${what}`);
    await new Promise((again) => setTimeout(again, 20));
  }
}
