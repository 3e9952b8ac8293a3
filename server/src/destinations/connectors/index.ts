import type { Connector, Kind } from './connector';
import { customRtmp } from './custom-rtmp/custom-rtmp';
import { emberplay } from './emberplay/emberplay';
import { kitefield } from './kitefield/kitefield';

export * from './connector';

const CONNECTORS: Record<Kind, Connector> = { custom_rtmp: customRtmp, emberplay, kitefield };

export const connectorOf = (kind: Kind): Connector => CONNECTORS[kind];

/** How far behind the programme the viewers of a place are, ms: by its rules, with the delay that we choose there. */
export function viewerDelayMs(kind: Kind): number {
  const [usual = 0] = Object.values(connectorOf(kind).rules.capabilities.viewerDelayS);
  return usual * 1000;
}
