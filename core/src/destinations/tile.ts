/** The patterns of tiles that a team can choose from: told apart by shape, never by colour. */
export const TILE_PATTERNS = [
  'plain',
  'striped',
  'barred',
  'dotted',
  'checked',
  'banded',
  'cornered',
  'framed',
] as const;
export type TilePattern = (typeof TILE_PATTERNS)[number];

/** Two letters or figures, as a tile shows them. */
export const TILE_CODE = /^[A-Z0-9]{2}$/;
