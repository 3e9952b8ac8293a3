import { PROGRAMME_PUBLISHER, type Publisher } from '@juncta/core/people';
import { nameOf } from '@juncta/core/stage';
import { createHmac } from 'node:crypto';
import { JanusAway, JanusRefused, type Handle, type HandleEvents, type Janus } from './janus';

/** Codes of Janus's VideoRoom plugin that are met on the way. */
const NO_SUCH_ROOM = 426;
const ROOM_EXISTS = 427;
const ID_EXISTS = 436;
/** A guest's picture is 640x360 or 1280x720; more than this only fills lines. Bit/s. */
const MOST_BITS_PER_S = 1_500_000;
/** Small letters on a screen need more. */
const MOST_SCREEN_BITS_PER_S = 2_500_000;
/** Everybody's cameras, and some screens. */
const MOST_PUBLISHERS = 40;

/** A connection of media that somebody has, until they or the media server let go of it. */
export interface Line {
  readonly sdp: string;
  /** Only of one that receives: the browser's answer. */
  answer(sdp: string): Promise<void>;
  close(): void;
}

/**
 * One show's room at the media server, made when somebody first needs it. Its secrets follow from the house's own, so
 * that a server that was restarted finds its way back into the rooms that are still there.
 */
export class MediaRoom {
  private readonly pin: string;
  private readonly secret: string;

  constructor(
    private readonly janus: Janus,
    private readonly showId: string,
    houseSecret: string,
  ) {
    const derived = (what: string) =>
      createHmac('sha256', houseSecret).update(`${what} ${showId}`).digest('base64url');
    this.pin = derived('pin');
    this.secret = derived('room');
  }

  /** Takes somebody's picture and sound in. Whatever came under this name before ends. */
  async publish(publisher: Publisher, sdp: string, events: HandleEvents): Promise<Line> {
    return this.withHandle(events, async (handle) => {
      const join = { request: 'join', ptype: 'publisher', room: this.showId, pin: this.pin, id: publisher };
      await this.inRoom(handle, () => handle.ask(join), publisher);
      const { jsep } = await handle.ask(
        { request: 'configure', bitrate: mostBitsPerS(publisher) },
        { type: 'offer', sdp },
      );
      if (!jsep) throw new JanusAway();
      return jsep.sdp;
    });
  }

  /** Receives what somebody sends: gives the media server's offer, and waits for the answer to it. */
  async watch(publisher: Publisher, hungUp: () => void): Promise<Line> {
    return this.withHandle({ up: () => undefined, hungUp }, async (handle) => {
      const streams = [{ feed: publisher }];
      const body = { request: 'join', ptype: 'subscriber', room: this.showId, pin: this.pin, streams };
      const { jsep } = await handle.ask(body);
      if (!jsep) throw new JanusAway();
      return jsep.sdp;
    });
  }

  private async withHandle(events: HandleEvents, begin: (handle: Handle) => Promise<string>): Promise<Line> {
    const handle = await this.janus.attach(events);
    try {
      const sdp = await begin(handle);
      return {
        sdp,
        answer: async (answered) => {
          await handle.ask({ request: 'start' }, { type: 'answer', sdp: answered });
        },
        close: () => handle.detach(),
      };
    } catch (error) {
      handle.detach();
      throw error;
    }
  }

  /** Makes the room if it is not there, and sends away what an earlier connection left under the same name. */
  private async inRoom<T>(handle: Handle, ask: () => Promise<T>, publisher: string): Promise<T> {
    for (let left = 3; ; left--) {
      try {
        return await ask();
      } catch (error) {
        if (left <= 0 || !(error instanceof JanusRefused)) throw error;
        if (error.code === NO_SUCH_ROOM) await this.make(handle);
        else if (error.code === ID_EXISTS) await this.kick(handle, publisher);
        else throw error;
      }
    }
  }

  private async make(handle: Handle): Promise<void> {
    try {
      await handle.ask({
        request: 'create',
        room: this.showId,
        pin: this.pin,
        secret: this.secret,
        is_private: true,
        publishers: MOST_PUBLISHERS,
        bitrate: MOST_BITS_PER_S,
        audiocodec: 'opus',
        videocodec: 'vp8',
        opus_fec: true,
      });
    } catch (error) {
      if (!(error instanceof JanusRefused) || error.code !== ROOM_EXISTS) throw error;
    }
  }

  private async kick(handle: Handle, publisher: string): Promise<void> {
    await handle
      .ask({ request: 'kick', room: this.showId, secret: this.secret, id: publisher })
      .catch(() => undefined);
  }
}

function mostBitsPerS(publisher: Publisher): number {
  const isScreen = publisher !== PROGRAMME_PUBLISHER && nameOf(publisher).kind === 'screen';
  return isScreen ? MOST_SCREEN_BITS_PER_S : MOST_BITS_PER_S;
}
