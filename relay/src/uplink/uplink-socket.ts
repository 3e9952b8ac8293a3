import {
  DeskRequest,
  TICKET_GRACE_MS,
  MAX_MESSAGE_BYTES,
  MEASURE_MOST_BYTES,
  MEASURE_MOST_MS,
  type Hello,
  type Receive,
  type Ticket,
  type UplinkAnswer,
  type REFUSAL_CODES,
} from '@juncta/contract/uplink';
import { SLOW_UPLINK_KBPS } from '@juncta/core/drill';
import { decodePackets, PACKET_FRAME_BYTES } from '@juncta/core/media/packets';
import { LineSilence } from '@juncta/core/uplink';
import { PendingConnections } from '@juncta/runtime/connections';
import type { Server } from 'node:http';
import type { Socket } from 'node:net';
import type { Logger } from 'pino';
import { WebSocketServer, type RawData, type WebSocket } from 'ws';
import type * as z from 'zod/mini';
import type { Input } from '../ingest/input';
import type { DeskLine, DeskSource } from './desk-source';
import { carryInput } from './carry-input';
import { readTicket } from './ticket';

/** What of a desk's packets has come is told this often. */
const TELL_EVERY_MS = 100;
/** A desk says who it is as soon as its socket is open. Each desk has three lines at most. */
const PENDING = { total: 64, perAddress: 16, patienceMs: 3000 } as const;
/** A desk is asked this often whether it is still there … */
const PING_EVERY_MS = 2000;
/** … and is taken to be gone after this long without a word: one answer may be missing. */
const SILENCE_MS = 5000;
/** Somewhat more than lies between two looks. */
const MOST_UNWATCHED_MS = 2500;
/** Desks that were let in, with all their lanes. */
const MOST_ADMITTED = 200;
const CLOSE = { policy: 1008, normal: 1000 } as const;

/** A show, as far as its desks go. */
export interface UplinkShow {
  readonly desk: DeskSource;
  readonly programme: { readonly covered: boolean; cover(on: boolean): void };
  readonly inputs: {
    find(inputId: string): Pick<Input, 'receivers' | 'watchers' | 'isTestOnly'> | null;
  };
}

export interface UplinkShows {
  /** Made when it is first asked for. */
  of(showId: string): UplinkShow;
  /** Whether the server has followed the relay for long enough that every desk could renew its ticket. */
  readonly canRenew: boolean;
}

/** A socket that was let in, and by which ticket. */
interface Admitted {
  readonly showId: string;
  readonly deskId: string;
  readonly epoch: number;
  readonly may: Ticket['may'];
  expiresAtMs: number;
}

/** Of one outside picture. */
const MOST_WATCHERS = 6;

type DeskMessage = z.infer<typeof DeskRequest>;
type RefusalCode = (typeof REFUSAL_CODES)[number];

const SENTENCES: Record<Exclude<RefusalCode, 'format_changed'>, string> = {
  ticket: 'This desk may not send a programme, or its permission has run out. Reload the page.',
  taken_over: 'Another desk composes this show now. What this one had under way was kept.',
  not_understood: 'The relay did not understand what was sent. Reload the page.',
  other_session: 'A packet belonged to another session than was announced. Reload the page.',
  too_long: 'A packet was longer than any picture can be. Reload the page.',
  too_many: `Somebody else has to stop looking first: at most ${MOST_WATCHERS} look at one picture at once.`,
  no_input: 'This show has no such outside picture any more.',
  damaged: 'A packet arrived damaged. Reload the page; what was recorded is kept.',
};

/** The door through which desks send the programme. One socket carries one lane of one session. */
export class UplinkSockets {
  private readonly server: WebSocketServer;
  private readonly composing = new Map<string, { socket: WebSocket; epoch: number }>();
  private readonly pinging: NodeJS.Timeout;
  private readonly silences = new WeakMap<WebSocket, LineSilence>();
  private readonly pending = new PendingConnections<Socket>(PENDING);

  constructor(
    http: Server,
    /** Whether it serves HTTPS. */
    tls: boolean,
    private readonly shows: UplinkShows,
    private readonly secret: string,
    private readonly log: Logger,
  ) {
    this.server = new WebSocketServer({
      noServer: true,
      maxPayload: MAX_MESSAGE_BYTES,
      perMessageDeflate: false,
    });
    // From the first byte on: a connection that never asks for anything is one that says nothing, too.
    http.on(tls ? 'secureConnection' : 'connection', (socket: Socket) => {
      this.pending.add(socket, socket.remoteAddress ?? '', () => socket.destroy());
      socket.once('close', () => this.pending.remove(socket));
    });
    http.on('upgrade', (req, socket, head) => {
      const known = req.url?.split('?')[0] === '/uplink';
      if (!known || this.admitted.size >= MOST_ADMITTED) {
        socket.end(
          `HTTP/1.1 ${known ? '503 Service Unavailable' : '404 Not Found'}\r\nConnection: close\r\n\r\n`,
        );
        return;
      }
      this.server.handleUpgrade(req, socket, head, (open) =>
        this.greet(open, () => this.pending.remove(req.socket)),
      );
    });
    this.pinging = setInterval(() => {
      for (const socket of this.server.clients) {
        const silentMs = this.silences.get(socket)?.look(performance.now()) ?? 0;
        if (silentMs > SILENCE_MS) {
          this.log.info({ silentMs }, 'a desk’s line is dead');
          socket.terminate();
        } else socket.ping();
      }
      this.dropExpired();
    }, PING_EVERY_MS);
  }

  /** Desks that came with a lower epoch composed before somebody took over. */
  dropOlder(showId: string, epoch: number): void {
    const now = this.composing.get(showId);
    if (now && now.epoch < epoch) refuse(now.socket, 'taken_over');
  }

  /** Whoever came with a lower epoch may send nothing any longer, on no lane. */
  dropRevoked(showId: string, epoch: number): void {
    for (const [socket, of] of this.admitted)
      if (of.showId === showId && of.epoch < epoch) refuse(socket, 'ticket');
  }

  /** A desk that does not renew its ticket is signed out, whether or not anybody told us. */
  private dropExpired(): void {
    if (!this.shows.canRenew) return;
    for (const [socket, { expiresAtMs }] of this.admitted)
      if (expiresAtMs < Date.now()) refuse(socket, 'ticket');
  }

  /** For a drill: whoever composes this show loses the line, and gets none for this long. */
  cutUplink(showId: string, ms: number): void {
    this.cutUntilMs.set(showId, Date.now() + ms);
    for (const [socket, of] of this.admitted) if (of.showId === showId) socket.terminate();
  }
  private readonly cutUntilMs = new Map<string, number>();
  private readonly admitted = new Map<WebSocket, Admitted>();

  /** For a drill: as if the line carried no more than {@link SLOW_UPLINK_KBPS}. */
  slowUplink(showId: string, ms: number): void {
    const untilMs = Date.now() + ms;
    for (const [socket, of] of this.admitted) if (of.showId === showId) slowDown(socket, untilMs);
  }

  close(): void {
    clearInterval(this.pinging);
    for (const socket of this.server.clients) socket.terminate();
    this.server.close();
  }

  /** @param admitted it has said who it is, and may stay */
  private greet(socket: WebSocket, admitted: () => void): void {
    socket.on('error', (error) => this.log.debug({ err: error }, 'a desk’s socket'));
    const silence = new LineSilence(performance.now(), MOST_UNWATCHED_MS);
    this.silences.set(socket, silence);
    for (const event of ['message', 'pong']) socket.on(event, () => silence.heard(performance.now()));
    socket.once('message', (data, binary) => {
      const request = binary ? null : readRequest(data);
      if (request?.type === 'measure') this.measure(socket, request.ticket, admitted);
      else if (request?.type === 'receive') this.admitReceiver(socket, request, admitted);
      else if (request?.type !== 'hello') refuse(socket, 'not_understood');
      else this.admit(socket, request, admitted);
    });
  }

  /** Counts what comes, and keeps none of it. */
  private measure(socket: WebSocket, ticketText: string, admitted: () => void): void {
    if (readTicket(ticketText, this.secret, Date.now())?.may !== 'compose') return refuse(socket, 'ticket');
    admitted();
    let bytes = 0;
    const over = setTimeout(() => socket.close(CLOSE.normal), MEASURE_MOST_MS);
    socket.once('close', () => clearTimeout(over));
    socket.on('message', (data, binary) => {
      if (!binary) return refuse(socket, 'not_understood');
      bytes += (data as Buffer).length;
      answer(socket, { type: 'measured', bytes });
      if (bytes > MEASURE_MOST_BYTES) socket.close(CLOSE.normal);
    });
    answer(socket, { type: 'welcome' });
  }

  private admit(socket: WebSocket, hello: Hello, admitted: () => void): void {
    const ticket = this.readTicket(hello.ticket);
    if (ticket?.may !== 'compose') return refuse(socket, 'ticket');
    if (Date.now() < (this.cutUntilMs.get(ticket.showId) ?? 0)) return socket.terminate();
    const show = this.shows.of(ticket.showId);
    const { desk } = show;
    const { lane } = hello;
    // The backlog of a desk that was taken over is still wanted: it completes the programme recording. Not so of one that may
    // not send any longer.
    if (ticket.epoch < desk.revokedBelow) return refuse(socket, 'ticket');
    admitted();
    const admission = this.enter(socket, ticket);
    if (lane === 'live') {
      if (ticket.epoch < desk.epoch) return refuse(socket, 'taken_over');
      desk.epoch = ticket.epoch;
    }
    const line: DeskLine = {
      deskId: ticket.deskId,
      acknowledge: (ackLane, number) => answer(socket, { type: 'acknowledged', lane: ackLane, number }),
      wantKeyframe: () => answer(socket, { type: 'keyframe_wanted' }),
      covered: (on) => answer(socket, { type: 'covered', on }),
    };
    if (lane === 'live') {
      this.dropOlder(ticket.showId, ticket.epoch);
      const admitted = desk.admit(hello, line);
      if (!admitted.ok) return refuse(socket, 'format_changed', admitted.sentence);
      this.composing.set(ticket.showId, { socket, epoch: ticket.epoch });
      this.log.info({ show: ticket.showId, session: hello.session }, 'a desk composes');
    }
    const tell = tellsArrivals(socket);
    socket.on('message', (data, binary) => {
      if (binary) {
        tell(data as Buffer);
        this.takePackets(socket, desk, line, hello, data as Buffer);
      } else this.takeRequest(socket, admission, lane === 'live' ? show : null, data);
    });
    socket.once('close', () => {
      if (this.composing.get(ticket.showId)?.socket === socket) this.composing.delete(ticket.showId);
      if (lane === 'live') desk.leave(line);
    });
    answer(socket, { type: 'welcome' });
    if (lane === 'live') line.covered(show.programme.covered);
  }

  /** Not the programme to us, but an outside picture to the desk that composes it, or to somebody who looks at it. */
  private admitReceiver(socket: WebSocket, { ticket: text, inputId }: Receive, admitted: () => void): void {
    const ticket = this.readTicket(text);
    const show = ticket && this.shows.of(ticket.showId);
    if (!ticket || !show) return refuse(socket, 'ticket');
    const watches = ticket.may === 'watch';
    if (!watches && ticket.epoch < show.desk.revokedBelow) return refuse(socket, 'ticket');
    const input = show.inputs.find(inputId);
    if (!input || (input.isTestOnly && !watches)) return refuse(socket, 'no_input');
    if (watches && input.watchers.count >= MOST_WATCHERS) return refuse(socket, 'too_many');
    admitted();
    const admission = this.enter(socket, ticket);
    carryInput(watches ? input.watchers : input.receivers, socket, {
      tell: (isHere) => answer(socket, { type: 'input', isHere }),
      closed: () => refuse(socket, 'no_input'),
    });
    socket.on('message', (data, binary) => {
      if (binary) refuse(socket, 'not_understood');
      else this.takeRequest(socket, admission, null, data);
    });
  }

  private readTicket(text: string) {
    return readTicket(text, this.secret, Date.now(), this.shows.canRenew ? 0 : TICKET_GRACE_MS);
  }

  private enter(socket: WebSocket, ticket: Admitted): Admitted {
    const admission: Admitted = { ...ticket };
    this.admitted.set(socket, admission);
    socket.once('close', () => this.admitted.delete(socket));
    return admission;
  }

  /** @param show null on a lane that covers nothing */
  private takeRequest(socket: WebSocket, admission: Admitted, show: UplinkShow | null, data: RawData): void {
    const request = readRequest(data);
    if (request?.type === 'renew') {
      const ticket = readTicket(request.ticket, this.secret, Date.now());
      const { deskId, showId, may } = admission;
      if (ticket?.deskId !== deskId || ticket.showId !== showId || ticket.may !== may)
        refuse(socket, 'ticket');
      else admission.expiresAtMs = ticket.expiresAtMs;
    } else if (request?.type === 'cover' && show) show.programme.cover(request.on);
    else refuse(socket, 'not_understood');
  }

  private takePackets(
    socket: WebSocket,
    desk: DeskSource,
    line: DeskLine,
    hello: Hello,
    bytes: Buffer,
  ): void {
    if (socket.readyState !== socket.OPEN) return;
    const { packets, consumed, problem } = decodePackets(bytes);
    let at = 0;
    for (const packet of packets) {
      const end = at + PACKET_FRAME_BYTES + packet.payload.length;
      if (packet.session !== hello.session) return refuse(socket, 'other_session');
      desk.take(hello.lane, packet, bytes.subarray(at, end), line);
      at = end;
    }
    if (problem === 'too_long') return refuse(socket, 'too_long');
    if (problem !== null || consumed !== bytes.length) refuse(socket, 'damaged');
  }
}

/** Tells the desk how much of what it sent has come: now and then, and last when nothing more comes. */
function tellsArrivals(socket: WebSocket): (data: Buffer) => void {
  let bytes = 0;
  let toldAtMs = -Infinity;
  let later: NodeJS.Timeout | undefined;
  const tell = () => {
    later = undefined;
    toldAtMs = performance.now();
    answer(socket, { type: 'measured', bytes });
  };
  socket.once('close', () => clearTimeout(later));
  return (data) => {
    bytes += data.length;
    later ??= setTimeout(tell, Math.max(0, TELL_EVERY_MS - (performance.now() - toldAtMs)));
  };
}

/** Reads in small sips: what is not read waits at the sender, as on a narrow line. */
function slowDown(socket: WebSocket, untilMs: number): void {
  const everyMs = 100;
  const most = (SLOW_UPLINK_KBPS / 8) * everyMs;
  let taken = 0;
  const count = (data: RawData) => {
    taken += (data as Buffer).length;
    if (taken >= most) socket.pause();
  };
  socket.on('message', count);
  const sipping = setInterval(() => {
    taken = Math.max(0, taken - most);
    if (taken < most) socket.resume();
    if (Date.now() < untilMs && socket.readyState === socket.OPEN) return;
    clearInterval(sipping);
    socket.off('message', count);
    socket.resume();
  }, everyMs);
}

function readRequest(data: RawData): DeskMessage | null {
  try {
    const parsed = DeskRequest.safeParse(JSON.parse((data as Buffer).toString('utf8')));
    return parsed.success ? parsed.data : null;
  } catch {
    return null;
  }
}

function answer(socket: WebSocket, what: UplinkAnswer): void {
  if (socket.readyState === socket.OPEN) socket.send(JSON.stringify(what));
}

function refuse(socket: WebSocket, code: RefusalCode, sentence?: string): void {
  const words = sentence ?? SENTENCES[code as keyof typeof SENTENCES];
  answer(socket, { type: 'refused', code, sentence: words });
  socket.close(code === 'taken_over' ? CLOSE.normal : CLOSE.policy, code);
}
