/** Of uploaded pictures: heavier ones are refused at the door. */
export const PICTURE_MAX_BYTES = 10 * 1024 * 1024;
/** A few kilobytes can unfold to gigabytes: what would have more pixels is not unfolded. */
export const PICTURE_MAX_PIXELS = 40_000_000;
