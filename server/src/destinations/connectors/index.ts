import type { SettingValues } from '@juncta/core/listings';
import type { Connector, Kind } from './connector';
import { customRtmp } from './custom-rtmp/custom-rtmp';
import { emberplay } from './emberplay/emberplay';
import { guildroad } from './guildroad/guildroad';
import { kitefield } from './kitefield/kitefield';
import { porchway } from './porchway/porchway';

export * from './connector';

const CONNECTORS: Record<Kind, Connector> = {
  custom_rtmp: customRtmp,
  emberplay,
  kitefield,
  porchway,
  guildroad,
};

export const connectorOf = (kind: Kind): Connector => CONNECTORS[kind];

/** How far behind the programme the viewers of a listing are, and how that is known. */
export interface ViewerDelay {
  readonly ms: number;
  readonly from: 'measured' | 'learned' | 'rule';
}

/** As it was measured at the place's own page, or learned, or else by its rules. */
export const viewerDelay = (
  kind: Kind,
  listing: {
    readonly viewerDelayMs: number | null;
    readonly viewerDelayFrom: 'measured' | 'learned' | null;
    readonly sent: { settings: SettingValues } | null;
  },
): ViewerDelay =>
  listing.viewerDelayMs === null
    ? { ms: viewerDelayMs(kind, listing.sent?.settings), from: 'rule' }
    : { ms: listing.viewerDelayMs, from: listing.viewerDelayFrom ?? 'measured' };

/** How far behind the programme the viewers of a place are, ms: by its rules, with the latency that it was told. */
export function viewerDelayMs(kind: Kind, told: SettingValues = {}): number {
  const { settings, viewerDelayS } = connectorOf(kind).rules.capabilities;
  const left = settings.find(({ id }) => id === 'latency')?.placeDefault;
  const latency = told.latency ?? left ?? 'ordinary';
  return (viewerDelayS[String(latency)] ?? Object.values(viewerDelayS)[0] ?? 0) * 1000;
}
