/** `#rrggbb`, in small or large letters. */
export const COLOUR_PATTERN = /^#[0-9a-f]{6}$/i;

/** Red, green and blue, 0 to 255 each. */
export type Colour = readonly [number, number, number];

/** Of `#rrggbb`; of anything else a `RangeError`. */
export function toColour(hex: string): Colour {
  if (!COLOUR_PATTERN.test(hex)) throw new RangeError(`a colour is written #rrggbb, not ${hex}`);
  return [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as unknown as Colour;
}
