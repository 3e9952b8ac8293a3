import {
  OVERLAY_NAMESPACE,
  OverlayAuth,
  type OverlayRefusal,
  type OverlayState,
  type OverlayToClient,
  type OverlayToServer,
} from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import type { ShowScope } from '@juncta/contract/shows';
import { eq } from 'drizzle-orm';
import type { Namespace, Server, Socket } from 'socket.io';
import { addressOf, socketRefusal } from '../../access/visits';
import type { App } from '../../app';
import { isDatabaseAway } from '../../database/connect';
import { dressingFont } from '../../dressing/schema';
import type { EventSocket } from '../../events/socket';
import type { ChatLines } from '../ingest/chat-lines';
import { OpenPage } from './open-page';
import { overlayContent, overlayReach } from './overlay-content';
import { findOverlay, overlayWithToken } from './overlay-store';

/** Whether a message's time has come or is over is looked at this often. */
const LOOK_EVERY_MS = 150;
/** However much is written, what is to be shown is read no more often. */
const READ_AT_MOST_EVERY_MS = 150;
/** And this often in any case: time alone leads to another show. */
const READ_AT_LEAST_EVERY_MS = 5000;
/** More encoders and screens than a team has. */
const MOST_OPEN = 24;
const MOST_ORDERS = 100;
const ORDERS_WITHIN_MS = 10_000;

interface SocketData {
  scope: ShowScope;
  tokenHash: string;
  readonly orders: { count: number; sinceMs: number };
}
type OverlaySocket = Socket<OverlayToServer, OverlayToClient, Record<string, never>, SocketData>;
type Space = Namespace<OverlayToServer, OverlayToClient, Record<string, never>, SocketData>;

/** A page that is open at one place or several. */
interface Open {
  readonly page: OpenPage;
  readonly sockets: Set<OverlaySocket>;
  readonly looking: NodeJS.Timeout;
  readonly unwatchShows: () => void;
  /** Of the show that it follows. */
  watched: { readonly showId: string; readonly unwatch: () => void } | null;
  reading: boolean;
  readAgain: boolean;
  /** By the machine's clock: the house's may be set. */
  readAtMs: number;
}

/** Keeps overlay pages that are open as they should be, and knows how far behind they are. */
export class OverlayPages {
  private readonly open = new Map<ShowScope, Open>();
  private events: Pick<EventSocket, 'watch'> | null = null;

  constructor(
    private readonly app: App,
    private readonly lines: ChatLines,
  ) {}

  /** From now on pages may connect. */
  serve(io: Server, events: Pick<EventSocket, 'watch'>): void {
    this.events = events;
    const space = io.of(OVERLAY_NAMESPACE) as unknown as Space;
    space.use((socket, next) => {
      this.admit(socket).then(
        (refusal) => next(refusal ? new Error(refusal) : undefined),
        (error: unknown) => next(new Error(socketRefusal(error) satisfies OverlayRefusal)),
      );
    });
    space.on('connection', (socket) => this.add(socket));
  }

  close(): void {
    for (const [scope, open] of this.open) this.end(scope, open);
  }

  /** How it looks, or its address, is another. */
  changed(scope: ShowScope): void {
    const open = this.open.get(scope);
    if (open) void this.read(scope, open);
  }

  /** False: it is open nowhere. */
  sample(scope: ShowScope): boolean {
    const open = this.open.get(scope);
    open?.page.sample(this.now());
    return open !== undefined;
  }

  async state(scope: ShowScope): Promise<OverlayState | null> {
    const row = await findOverlay(this.app.db, scope);
    if (!row) return null;
    const open = this.open.get(scope);
    const reach = await overlayReach(this.app, this.lines, scope, row.box);
    return { ...reach, open: open?.sockets.size ?? 0, delayMs: open?.page.delayMs ?? null };
  }

  private async admit(socket: OverlaySocket): Promise<OverlayRefusal | null> {
    const { request, handshake } = socket;
    await this.app.rateLimits.countPublicDoor(addressOf(request, this.app.config.trustProxy), null);
    const auth = OverlayAuth.safeParse(handshake.auth);
    const row = auth.success ? await overlayWithToken(this.app.db, auth.data.token) : undefined;
    if (!row) return 'no_page';
    if ((this.open.get(row.scope)?.sockets.size ?? 0) >= MOST_OPEN) return 'too_many';
    socket.data = { scope: row.scope, tokenHash: row.tokenHash, orders: { count: 0, sinceMs: 0 } };
    return null;
  }

  private add(socket: OverlaySocket): void {
    const { scope } = socket.data;
    const open = this.open.get(scope) ?? this.begin(scope);
    open.sockets.add(socket);
    const seen = open.page.look(this.now());
    if (seen) socket.emit('view', seen.view);
    // Renewed while it was let in, perhaps.
    void this.read(scope, open);
    socket.on('shown', (number) => {
      if (this.asksTooMuch(socket)) return;
      open.page.shown(number, this.now());
    });
    socket.on('face', (id, answer) => {
      if (typeof answer !== 'function' || this.asksTooMuch(socket)) return;
      this.face(open, id).then(answer, () => answer(null));
    });
    socket.once('disconnect', () => {
      open.sockets.delete(socket);
      if (open.sockets.size === 0) this.end(scope, open);
    });
  }

  private asksTooMuch(socket: OverlaySocket): boolean {
    const { orders } = socket.data;
    const nowMs = this.app.securityClock.now();
    if (nowMs - orders.sinceMs > ORDERS_WITHIN_MS) Object.assign(orders, { count: 0, sinceMs: nowMs });
    orders.count += 1;
    if (orders.count <= MOST_ORDERS) return false;
    socket.disconnect(true);
    return true;
  }

  private async face({ page }: Open, id: string): Promise<ArrayBuffer | null> {
    if (!page.faces.includes(id)) return null;
    const [row] = await this.app.db.select().from(dressingFont).where(eq(dressingFont.id, id));
    return row ? new Uint8Array(row.bytes).buffer : null;
  }

  private begin(scope: ShowScope): Open {
    const open: Open = {
      page: new OpenPage(),
      sockets: new Set(),
      looking: setInterval(() => this.look(scope, open), LOOK_EVERY_MS),
      unwatchShows: this.events!.watch('shows', () => void this.read(scope, open)),
      watched: null,
      reading: false,
      readAgain: false,
      readAtMs: -Infinity,
    };
    this.open.set(scope, open);
    return open;
  }

  private end(scope: ShowScope, open: Open): void {
    clearInterval(open.looking);
    open.unwatchShows();
    open.watched?.unwatch();
    if (this.open.get(scope) === open) this.open.delete(scope);
  }

  private look(scope: ShowScope, open: Open): void {
    if (this.app.securityClock.now() - open.readAtMs > READ_AT_LEAST_EVERY_MS) void this.read(scope, open);
    this.tell(open);
  }

  private tell({ page, sockets }: Open): void {
    const seen = page.look(this.now());
    if (seen?.isNew) for (const socket of sockets) socket.emit('view', seen.view);
  }

  /** Reads what is to be shown, as often as it is asked for but one after the other. */
  private async read(scope: ShowScope, open: Open): Promise<void> {
    open.readAgain = true;
    if (open.reading) return;
    open.reading = true;
    while (open.readAgain && this.open.get(scope) === open) {
      open.readAgain = false;
      open.readAtMs = this.app.securityClock.now();
      try {
        await this.readOnce(scope, open);
      } catch (error) {
        // A database that is away comes back: what is shown stays until then.
        if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'an overlay page could not be read');
      }
      await new Promise<void>((done) => setTimeout(done, READ_AT_MOST_EVERY_MS));
    }
    open.reading = false;
  }

  private async readOnce(scope: ShowScope, open: Open): Promise<void> {
    const row = await findOverlay(this.app.db, scope);
    for (const socket of open.sockets) {
      if (socket.data.tokenHash === row?.tokenHash) continue;
      socket.emit('ended');
      socket.disconnect(true);
    }
    if (!row) return;
    const content = await overlayContent(this.app, scope, row.box);
    if (this.open.get(scope) !== open) return;
    this.follow(scope, open, content.showId);
    open.page.read(content, row.box, this.now());
    this.tell(open);
  }

  private follow(scope: ShowScope, open: Open, showId: string | null): void {
    if (open.watched?.showId === showId) return;
    open.watched?.unwatch();
    open.watched = showId === null ? null : { showId, unwatch: this.watchChat(scope, open, showId) };
  }

  private watchChat(scope: ShowScope, open: Open, showId: string): () => void {
    return this.events!.watch(streamOf('chat', showId), () => void this.read(scope, open));
  }

  /** By the house's clock, as on the programme. */
  private now(): number {
    return this.app.clock.now();
  }
}
