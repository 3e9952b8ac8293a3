/** Where messages came from. */
export interface Origin {
  readonly showId: string;
  readonly destinationId: string;
  /** How far behind the programme its viewers are. */
  readonly delayMs: number;
  /** Only the house rule says so. */
  readonly delayAbout: boolean;
  /** They are of a practice: no line brought them. */
  readonly practice?: boolean;
}
