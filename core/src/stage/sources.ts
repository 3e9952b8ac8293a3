/** What can stand in the picture. Each part of the application that brings pictures has a kind of its own. */
export const SOURCE_KINDS = ['camera', 'screen', 'outside', 'overlay'] as const;
export type SourceKind = (typeof SOURCE_KINDS)[number];

/**
 * A source of pictures: its kind, whom or what it belongs to, and its number among those from 1. The same person may own
 * several. `camera:<person>:1`, `overlay:name/<person>:1`.
 */
export type SourceId = `${SourceKind}:${string}:${number}`;

export const SOURCE_ID_PATTERN = new RegExp(
  `^(${SOURCE_KINDS.join('|')}):([A-Za-z0-9_/-]{1,80}):([1-9]\\d?)$`,
);

/** Owns what belongs to nobody of the show. */
export const DESK_OWNER = 'desk';

export interface SourceName {
  readonly kind: SourceKind;
  /** A person's id in the show, or {@link DESK_OWNER}; of an outside picture, its input; of an overlay, what it says. */
  readonly owner: string;
  readonly number: number;
}

export const sourceId = (kind: SourceKind, owner: string, number = 1): SourceId =>
  `${kind}:${owner}:${number}`;

/** An outside picture that belongs to nobody of the show: shown whole, and without a name. */
export const outsideSource = (inputId: string): SourceId => sourceId('outside', inputId);

/** @throws RangeError for what is no source */
export function nameOf(id: SourceId): SourceName {
  const parts = SOURCE_ID_PATTERN.exec(id);
  if (!parts) throw new RangeError(`${id} is no source`);
  return { kind: parts[1] as SourceKind, owner: parts[2]!, number: Number(parts[3]) };
}

/** The next of a kind that somebody may own beside those that are taken. */
export function freeSource(kind: SourceKind, owner: string, taken: readonly SourceId[]): SourceId {
  let number = 1;
  while (taken.includes(sourceId(kind, owner, number))) number += 1;
  return sourceId(kind, owner, number);
}
