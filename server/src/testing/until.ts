/** Waits until something holds; fails the spec when it does not for this long. */
export async function until(
  what: string,
  holds: () => boolean | Promise<boolean>,
  patienceMs = 45_000,
): Promise<void> {
  let waitMs = 20;
  for (const endMs = Date.now() + patienceMs; !(await holds());) {
    if (Date.now() > endMs) throw new Error(`waited in vain until ${what}`);
    await new Promise((again) => setTimeout(again, waitMs));
    // What takes long is asked less often: the house has limits, for specs too.
    waitMs = Math.min(250, waitMs * 1.1);
  }
}
