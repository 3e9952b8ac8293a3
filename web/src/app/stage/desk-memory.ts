import { SOURCE_ID_PATTERN, type SourceId } from '@juncta/core/stage';
import type { DeviceChoice } from './sources/devices';

/** A source that can be had again without asking anybody: a screen cannot. */
export type RememberedSource =
  | { readonly origin: 'pattern'; readonly isGrainy?: boolean }
  | { readonly origin: 'camera'; readonly choice: DeviceChoice };

/** What this browser's desk had for a show: what a reload comes back to. No live objects; the stage itself is the server's. */
export interface DeskMemory {
  /** What has its pictures from this desk. */
  readonly sources: Readonly<Record<SourceId, RememberedSource>>;
  /** The desk composed when it was left. */
  readonly composing: boolean;
}

export const FRESH_DESK: DeskMemory = { sources: {}, composing: false };

const keyOf = (showId: string) => `juncta.desk.${showId}`;

/** Kept for the tab, so that two tabs of one browser do not take each other's. */
export function recallDesk(showId: string): DeskMemory {
  try {
    const read = JSON.parse(sessionStorage.getItem(keyOf(showId)) ?? 'null') as DeskMemory | null;
    return read && isSources(read.sources) ? { ...FRESH_DESK, ...read } : FRESH_DESK;
  } catch {
    return FRESH_DESK;
  }
}

export function rememberDesk(showId: string, memory: DeskMemory): void {
  try {
    sessionStorage.setItem(keyOf(showId), JSON.stringify(memory));
  } catch {
    // A browser that keeps nothing only loses the convenience.
  }
}

const isSources = (value: unknown): boolean =>
  typeof value === 'object' &&
  value !== null &&
  Object.entries(value).every(
    ([id, one]) => SOURCE_ID_PATTERN.test(id) && typeof one === 'object' && one !== null && 'origin' in one,
  );
