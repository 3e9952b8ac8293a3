import type { SourceId } from '@juncta/core/stage';
import type { OutsideMessage, OutsideReport } from './messages';
import { OutsideLine } from './outside-line';
import { OutsidePlayer } from './outside-player';

/**
 * Receives outside pictures and decodes them, each for whoever holds the other end of its port. Lives in a worker, so that a
 * hidden page does not slow it down.
 */
const TICK_MS = 5;
const LOOK_MS = 500;

interface Outside {
  readonly line: OutsideLine;
  readonly player: OutsidePlayer;
}
const all = new Map<SourceId, Outside>();
const report = (what: OutsideReport) => self.postMessage(what);

self.onmessage = ({ data }: MessageEvent<OutsideMessage>) => {
  switch (data.type) {
    case 'receive': {
      const player = new OutsidePlayer(data.port);
      const line = new OutsideLine(data.inputId, data.line, {
        begins: () => player.begins(),
        tag: (tag) => player.tag(tag),
        ends: () => player.ends(),
        ticketRefused: () => report({ type: 'ticket' }),
        refused: (sentence) => report({ type: 'refused', source: data.source, sentence }),
      });
      all.set(data.source, { line, player });
      break;
    }
    case 'line':
      for (const { line } of all.values()) line.renew(data.line);
      break;
    case 'end':
      end(data.source);
      break;
  }
};

function end(source: SourceId): void {
  const outside = all.get(source);
  all.delete(source);
  outside?.line.close();
  outside?.player.close();
}

setInterval(() => {
  const nowMs = performance.now();
  for (const { player } of all.values()) player.tick(nowMs);
}, TICK_MS);

setInterval(() => {
  const nowMs = performance.now();
  for (const [source, { line, player }] of all) {
    line.watch(nowMs);
    report({ type: 'fates', source, ...player.fates(nowMs) });
  }
}, LOOK_MS);
