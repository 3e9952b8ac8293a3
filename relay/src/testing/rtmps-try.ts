import { parseRtmpAddress } from '@juncta/core/media/rtmp';
import { RtmpConnection } from '../feeds/rtmp-connection';

/**
 * `node rtmps-try.ts ADDRESS KEY`: dials and prints what comes of it. A process of its own, because whom Node trusts is
 * settled when it starts (NODE_EXTRA_CA_CERTS).
 */
const [, , address, key] = process.argv as [string, string, string, string];
const connection = new RtmpConnection(parseRtmpAddress(address)!, key, '127.0.0.1', (event) => {
  console.log(JSON.stringify(event));
  connection.hangUp(true);
  setTimeout(() => process.exit(), 200);
});
