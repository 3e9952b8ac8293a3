import type { Destination } from '@juncta/contract/destinations';
import type { Connector } from './connector';
import { customRtmp } from './custom-rtmp';
import { emberplay } from './emberplay';

export * from './connector';

const CONNECTORS: Record<Destination['kind'], Connector> = { custom_rtmp: customRtmp, emberplay };

export const connectorOf = (kind: Destination['kind']): Connector => CONNECTORS[kind];
