import type { PlaceHealth } from '@juncta/contract/feeds';
import type { EncodingMachine, ProgrammeReport } from '@juncta/contract/relay';
import { relayAway, type RelayClient } from './relay-client';

/** What the parts of the server ask of the relay. `RelayLink` is it, and does more by itself. */
export interface Relay {
  /** Signs the tickets of desks. */
  readonly config: { readonly secret: string };
  readonly client: RelayClient;
  /** Whether the relay is heard. */
  readonly isUp: boolean;
  /** What may be encoded there, as it last said; null: it was not heard yet. */
  readonly machine: EncodingMachine | null;
  /** The programme as the relay last told it; null while the relay is away or knows nothing of the show. */
  reportOf(showId: string): ProgrammeReport | null;
  latestReports(): readonly ProgrammeReport[];
  /** Who watches there now, as the place last said; null: it did not. */
  viewersAt(showId: string, destinationId: string): number | null;
  /** What the place says of what it receives; null: nothing, or nothing is sent there. */
  healthAt(showId: string, destinationId: string): PlaceHealth | null;
  /** Keeps what an order's answer says, so that whoever gave it finds it done. Returns it. */
  keep(report: ProgrammeReport): Promise<ProgrammeReport>;
  /** Looks at the place once, from outside, and tells the relay what was seen. */
  lookAt(showId: string, destinationId: string): Promise<void>;
  /** Ends the events that are over at the places which have to be told. */
  endWhatIsOver(): Promise<void>;
}

/** The relay for an order that needs one. Throws `relay_away` where none runs. */
export function relayOf({ relay }: { readonly relay: Relay | null }): Relay {
  if (!relay) throw relayAway();
  return relay;
}
