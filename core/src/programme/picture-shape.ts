/**
 * How a picture lies. The programme is `landscape`, 16 by 9. The others are upright, 9 by 16, for places that are watched on
 * phones, and made of the programme: `upright_whole` shows all of it across, over a blurred copy; `upright_halves` its left
 * half above its right half, so that two people who stand side by side stand above one another; `upright_middle` its middle,
 * from top to bottom.
 */
export const PICTURE_SHAPES = ['landscape', 'upright_whole', 'upright_halves', 'upright_middle'] as const;
export type PictureShape = (typeof PICTURE_SHAPES)[number];

export const isUpright = (shape: PictureShape): boolean => shape !== 'landscape';
