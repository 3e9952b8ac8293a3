const STORE = 'juncta.desk';
/** A page that is reloaded lets go of its lock a moment later. */
const RELEASE_MS = 1000;

let mine: Promise<string> | undefined;

/**
 * This tab's own id: the same after a reload, another in a tab that was duplicated. The lock tells the two apart: the
 * one that was there first holds it.
 */
export function deskId(): Promise<string> {
  return (mine ??= find());
}

async function find(): Promise<string> {
  const known = sessionStorage.getItem(STORE);
  if (known && (await hold(known))) return known;
  const fresh = crypto.randomUUID();
  sessionStorage.setItem(STORE, fresh);
  await hold(fresh);
  return fresh;
}

function hold(id: string): Promise<boolean> {
  if (!navigator.locks) return Promise.resolve(true);
  return new Promise((answer) => {
    const late = AbortSignal.timeout(RELEASE_MS);
    navigator.locks
      .request(`juncta-desk-${id}`, { signal: late }, () => {
        answer(true);
        // Held until the page is gone.
        return new Promise(() => undefined);
      })
      .catch(() => answer(false));
  });
}
