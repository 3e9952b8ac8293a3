import { TELL_INPUT_EVERY_MS } from '@juncta/contract/uplink';
import type { WebSocket } from 'ws';
import type { InputReceiver, InputReceivers } from '../ingest/receivers';

/** Sends an outside picture over a desk's socket until it closes. */
export function carryInput(
  receivers: InputReceivers,
  socket: WebSocket,
  says: Pick<InputReceiver, 'tell' | 'closed'>,
): void {
  let isHere = false;
  const leave = receivers.add({
    get waiting() {
      return socket.bufferedAmount;
    },
    send: (bytes) => {
      if (socket.readyState === socket.OPEN) socket.send(bytes);
    },
    tell: (here) => {
      isHere = here;
      says.tell(here);
    },
    closed: () => says.closed(),
  });
  const telling = setInterval(() => says.tell(isHere), TELL_INPUT_EVERY_MS);
  socket.once('close', () => {
    clearInterval(telling);
    leave();
  });
}
