import { parseRtmpAddress, RTMP_VERSION, RtmpPublisher } from '@juncta/core/media/rtmp';
import { randomBytes } from 'node:crypto';
import { connect as connectTcp, isIP } from 'node:net';
import { connect as connectTls } from 'node:tls';
import { resolveOutgoing } from './outgoing';

/** Whoever takes longer is not near. */
const PATIENCE_MS = 2500;

/**
 * Round trip to an ingest, ms: from the first bytes of RTMP's handshake to the first of its
 * answer (RTMP 1.0, 5.2), so that what answers for a place at its door is not taken for the place. Null: nothing that
 * speaks RTMP answered in time.
 */
export async function roundTrip(address: string, allowLocalPlaces: boolean): Promise<number | null> {
  const parsed = parseRtmpAddress(address);
  if (!parsed) return null;
  const host = await resolveOutgoing(parsed.host, allowLocalPlaces).catch(() => null);
  if (host === null) return null;
  const where = { host, port: parsed.port };
  const socket = parsed.secure
    ? connectTls({ ...where, ...(isIP(parsed.host) ? {} : { servername: parsed.host }) })
    : connectTcp(where);
  return new Promise((done) => {
    let askedAt = 0;
    const finish = (ms: number | null) => {
      clearTimeout(timer);
      socket.destroy();
      done(ms);
    };
    const timer = setTimeout(() => finish(null), PATIENCE_MS);
    socket.setNoDelay(true);
    socket.once(parsed.secure ? 'secureConnect' : 'connect', () => {
      askedAt = performance.now();
      socket.write(new RtmpPublisher(parsed, '', randomBytes(1528)).begin());
    });
    socket.once('data', (bytes: Buffer) =>
      finish(bytes[0] === RTMP_VERSION ? Math.round((performance.now() - askedAt) * 10) / 10 : null),
    );
    socket.once('error', () => finish(null));
    socket.once('close', () => finish(null));
  });
}
