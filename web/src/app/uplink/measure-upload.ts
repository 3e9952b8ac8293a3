import type { UplinkAnswer } from '@juncta/contract/uplink';

const MEASURED_MS = 4000;
/** The line needs a moment before it is as fast as it gets. */
const WARM_UP_MS = 700;
const CHUNK_BYTES = 64 * 1024;
/** On its way at one time: enough for a fast line, and little enough for a slow one to be measured in time. */
const MOST_ON_THE_WAY_BYTES = 2_000_000;
/** A line that carries no chunk in this time carries no programme. */
const PATIENCE_MS = 12_000;

/**
 * What the line from this browser to the relay carries, kbit/s: counted over there, so that nothing is taken for sent
 * that only waits here. Rejects with an error when the relay does not answer or says no.
 */
export function measureUpload(uplinkUrl: string, ticket: string): Promise<number> {
  const socket = new WebSocket(uplinkUrl);
  return new Promise<number>((done, failed) => {
    // Noise: a line that squeezes what it carries would squeeze nothing of it.
    const chunk = crypto.getRandomValues(new Uint8Array(CHUNK_BYTES));
    let sent = 0;
    let from: { readonly atMs: number; readonly bytes: number } | null = null;
    let beganMs = 0;
    const late = setTimeout(() => finish(null), PATIENCE_MS);
    const finish = (kbps: number | null) => {
      clearTimeout(late);
      socket.close();
      if (kbps === null) failed(new Error('the relay did not answer'));
      else done(kbps);
    };
    const send = (got: number) => {
      while (sent - got < MOST_ON_THE_WAY_BYTES) {
        socket.send(chunk);
        sent += CHUNK_BYTES;
      }
    };
    socket.onopen = () => socket.send(JSON.stringify({ type: 'measure', ticket }));
    socket.onerror = () => finish(null);
    socket.onclose = () => finish(null);
    socket.onmessage = ({ data }) => {
      const answer = JSON.parse(data as string) as UplinkAnswer;
      const nowMs = performance.now();
      if (answer.type === 'welcome') {
        beganMs = nowMs;
        send(0);
      } else if (answer.type === 'measured') {
        if (from === null && nowMs - beganMs >= WARM_UP_MS) from = { atMs: nowMs, bytes: answer.bytes };
        if (from !== null && nowMs - beganMs >= MEASURED_MS && nowMs > from.atMs)
          finish(Math.round(((answer.bytes - from.bytes) * 8) / (nowMs - from.atMs)));
        else send(answer.bytes);
      } else finish(null);
    };
  });
}
