import {
  OVERLAY_NAMESPACE,
  type OverlayRefusal,
  type OverlayToClient,
  type OverlayToServer,
  type OverlayView,
} from '@juncta/contract/chat';
import { io, type Socket } from 'socket.io-client';

/** An address that leads nowhere may lead somewhere again, and the house may be away: so long later it is tried again. */
const AGAIN_MS = 5000;
/** What is seen stays for so long without a line: a page that blinks is seen by all, and what is hidden must be gone soon. */
const STAYS_MS = 1000;

export interface OverlaySide {
  show(view: OverlayView): void;
  /** The address is none any more, or the house cannot be reached: nothing that is seen can be relied on. May be said twice. */
  clear(): void;
}

/** An overlay page's line to the house, made again after every break. */
export class OverlayLink {
  private readonly socket: Socket<OverlayToClient, OverlayToServer>;
  private retrying: ReturnType<typeof setTimeout> | undefined;
  private clearing: ReturnType<typeof setTimeout> | undefined;

  constructor(token: string, side: OverlaySide, connect = io) {
    this.socket = connect(OVERLAY_NAMESPACE, {
      path: '/api/socket',
      transports: ['websocket'],
      reconnectionDelay: 300,
      reconnectionDelayMax: 2000,
      auth: { token },
    });
    this.socket.on('view', (view) => {
      clearTimeout(this.clearing);
      side.show(view);
    });
    this.socket.on('ended', () => side.clear());
    this.socket.on('connect_error', ({ message }) => {
      if ((message as OverlayRefusal) === 'no_page') side.clear();
      if (!this.socket.active) this.retry();
    });
    this.socket.on('disconnect', () => {
      // Something may be hidden meanwhile that we would go on showing.
      clearTimeout(this.clearing);
      this.clearing = setTimeout(() => side.clear(), STAYS_MS);
      if (!this.socket.active) this.retry();
    });
  }

  shown(view: OverlayView): void {
    this.socket.emit('shown', view.number);
  }

  face(id: string): Promise<ArrayBuffer | null> {
    return this.socket.timeout(AGAIN_MS).emitWithAck('face', id);
  }

  close(): void {
    clearTimeout(this.retrying);
    clearTimeout(this.clearing);
    this.socket.disconnect();
  }

  private retry(): void {
    clearTimeout(this.retrying);
    this.retrying = setTimeout(() => this.socket.connect(), AGAIN_MS);
  }
}
