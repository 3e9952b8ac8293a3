/** How a place's line can be tried; see `LineTestWay` in the contract. */
export type LineWay =
  | {
      readonly kind: 'hidden_event';
      readonly placements: readonly string[] | null;
      readonly slotInMinutes: number | null;
    }
  | { readonly kind: 'unsafe' }
  | { readonly kind: 'unknown' };

/**
 * Whether a line can be tried at this placement without anybody seeing it: `hidden`: yes; `ask`: nobody can say, so a
 * person decides; `no`: it would be shown.
 *
 * @param placementKind the kind of the placement; null: the destination has none
 */
export function lineTestAt(way: LineWay, placementKind: string | null): 'hidden' | 'ask' | 'no' {
  switch (way.kind) {
    case 'unknown':
      return 'ask';
    case 'unsafe':
      return 'no';
    case 'hidden_event':
      return way.placements === null || (placementKind !== null && way.placements.includes(placementKind))
        ? 'hidden'
        : 'no';
  }
}

/** A show as the desk sends it. */
export const LINE_TEST_KBPS = 4500;
export const LINE_TEST_HEIGHT = 720;

/** What is sent in a test: what a show would send, and never more than the place takes. */
export function lineTestFormat(encoder: { maxKbps: number; maxHeight: number }): {
  kbps: number;
  height: number;
} {
  return {
    kbps: Math.min(LINE_TEST_KBPS, encoder.maxKbps),
    height: Math.min(LINE_TEST_HEIGHT, encoder.maxHeight),
  };
}
