import { type Layout, LAYOUTS } from '@juncta/core/stage';

/** How this browser's desk was set for a show: what a reload comes back to. No live objects. */
export interface StageMemory {
  readonly layout: Layout;
  /** People on stage, by their ids in the show, in order. */
  readonly stage: readonly string[];
  /** Who has a picture from this desk, and of what kind. */
  readonly sources: Readonly<Record<string, 'pattern' | 'camera'>>;
  readonly names: boolean;
  /** The desk composed when it was left. */
  readonly composing: boolean;
}

export const FRESH_STAGE: StageMemory = {
  layout: 'single',
  stage: [],
  sources: {},
  names: true,
  composing: false,
};

const keyOf = (showId: string) => `juncta.stage.${showId}`;

/** Kept for the tab, so that two tabs of one browser do not take each other's. */
export function recallStage(showId: string): StageMemory {
  try {
    const read = JSON.parse(sessionStorage.getItem(keyOf(showId)) ?? 'null') as StageMemory | null;
    return read && LAYOUTS.includes(read.layout) && Array.isArray(read.stage)
      ? { ...FRESH_STAGE, ...read }
      : FRESH_STAGE;
  } catch {
    return FRESH_STAGE;
  }
}

export function rememberStage(showId: string, memory: StageMemory): void {
  try {
    sessionStorage.setItem(keyOf(showId), JSON.stringify(memory));
  } catch {
    // A browser that keeps nothing only loses the convenience.
  }
}
