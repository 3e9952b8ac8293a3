/**
 * Two people edited the same thing from the same version. What only one of them changed is taken over; what
 * both changed to different values is a conflict, which only a person can decide.
 */
export interface ThreeWay<T extends object> {
  /** `theirs` with every field that only `mine` changed. Conflicting fields hold `theirs`. */
  readonly merged: T;
  /** The fields that both changed, differently, in the order of `base`. */
  readonly conflicts: readonly (keyof T)[];
  /** The fields that `theirs` has changed against `base`, whether in conflict or not. */
  readonly theirChanges: readonly (keyof T)[];
}

/** Values are compared by what they hold, not by identity; they must be plain data. */
export function mergeThreeWay<T extends object>(base: T, mine: T, theirs: T): ThreeWay<T> {
  const merged = { ...theirs };
  const conflicts: (keyof T)[] = [];
  const theirChanges: (keyof T)[] = [];
  for (const key of Object.keys(base) as (keyof T)[]) {
    const iChanged = !same(base[key], mine[key]);
    const theyChanged = !same(base[key], theirs[key]);
    if (theyChanged) theirChanges.push(key);
    if (!iChanged || same(mine[key], theirs[key])) continue;
    if (theyChanged) conflicts.push(key);
    else merged[key] = mine[key];
  }
  return { merged, conflicts, theirChanges };
}

/** Whether two packets of plain data hold the same. */
export function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const keys = Object.keys(a);
  if (keys.length !== Object.keys(b).length) return false;
  const [left, right] = [a, b] as [Record<string, unknown>, Record<string, unknown>];
  return keys.every((key) => Object.hasOwn(right, key) && same(left[key], right[key]));
}
