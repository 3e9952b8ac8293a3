import { ClockSettingMessage } from '@juncta/contract/clock';
import { createParser } from 'eventsource-parser';
import type { Logger } from 'pino';
import type { ServerClock } from './server-clock';

const ANSWER_TIMEOUT_MS = 2000;
const RETRY_MS = 1000;

/**
 * Follows the rehearsal clock, a stand-in process, over the network: reads its setting, then every change as
 * it comes. While it cannot be reached the last setting goes on. Whoever wants a real clock gives no address.
 */
export function followRehearsalClock(url: string, clock: ServerClock, log: Logger): () => void {
  const stopped = new AbortController();
  void (async () => {
    while (!stopped.signal.aborted) {
      try {
        await readChanges(url, clock, stopped.signal);
      } catch (error) {
        if (!stopped.signal.aborted) log.warn({ err: error }, 'the rehearsal clock does not answer');
      }
      await new Promise((done) => setTimeout(done, RETRY_MS));
    }
  })();
  return () => stopped.abort();
}

async function readChanges(url: string, clock: ServerClock, stopped: AbortSignal): Promise<void> {
  const answering = new AbortController();
  const timeout = setTimeout(() => answering.abort(), ANSWER_TIMEOUT_MS);
  const response = await fetch(new URL('/clock/changes', url), {
    signal: AbortSignal.any([stopped, answering.signal]),
  });
  clearTimeout(timeout);
  if (!response.ok || !response.body) throw new Error(`answered ${response.status}`);
  const parser = createParser({
    onEvent: ({ data }) => clock.adopt(ClockSettingMessage.parse(JSON.parse(data))),
  });
  const decoder = new TextDecoder();
  for await (const chunk of response.body) {
    parser.feed(decoder.decode(chunk as Uint8Array, { stream: true }));
  }
}
