import type { AskPlace } from '../ask-place';

/** What a connector is given of a destination: where it is, and its secret, unlocked for this one call. */
export interface Target {
  readonly id: string;
  readonly address: string;
  readonly secret: string;
}

/** Where a feed is to be sent. */
export interface IngestPoint {
  /** `rtmp(s)://host[:port]/app`. */
  readonly address: string;
  readonly key: string;
}

/** What somebody sees who looks at the place from outside. */
export interface Looked {
  readonly public: boolean;
}

/**
 * One kind of place. Everything that is peculiar to it stays in its own file; the rest of the server goes by this.
 * Calls may be repeated, and throw {@link PlaceAway} or {@link PlaceRefused}.
 */
export interface Connector {
  /** What happens when our stream arrives. */
  readonly arrival: 'public' | 'held';
  ingest(target: Target, ask: AskPlace): Promise<IngestPoint>;
  /** Null: nobody can look, so the feed stays `sending`. */
  readonly look: ((target: Target, ask: AskPlace) => Promise<Looked>) | null;
}
