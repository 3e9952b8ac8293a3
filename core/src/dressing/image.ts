/** A picture that was uploaded for dressings; its longer side has 1,920 pixels at most. */
export interface DressingImage {
  /** By what is in it: the same picture has the same. */
  readonly id: string;
  readonly width: number;
  readonly height: number;
}
