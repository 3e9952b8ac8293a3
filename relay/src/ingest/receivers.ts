import { encodeTag, type AudioBody, type FlvTag, type VideoBody } from '@juncta/core/media/flv';

/** Whoever gets what comes in as it came: a desk that has it on its stage. */
export interface InputReceiver {
  /** Bytes that wait on its line. */
  readonly waiting: number;
  /** One tag. */
  send(bytes: Uint8Array): void;
  /** Whether the encoder is there. */
  tell(isHere: boolean): void;
  /** The input is no more. */
  closed(): void;
}

/** So much may wait for a line that is too narrow: some two seconds. Beyond it nothing comes until a keyframe finds room. */
const MOST_WAITING_BYTES = 3_000_000;

/** Sends an outside picture on as it comes; each receiver begins at a keyframe. */
export class InputReceivers {
  /** Whether it waits for a keyframe. */
  private readonly all = new Map<InputReceiver, { waits: boolean }>();

  /**
   * @param input what comes: whether it is there, and what a decoder has to know first
   * @param told somebody receives it, or nobody does any more
   */
  constructor(
    private readonly input: { readonly isHere: boolean; readonly configurations: FlvTag[] },
    private readonly told: () => void,
  ) {}

  get isEmpty(): boolean {
    return this.all.size === 0;
  }

  get count(): number {
    return this.all.size;
  }

  /** @returns no longer */
  add(receiver: InputReceiver): () => void {
    this.all.set(receiver, { waits: true });
    receiver.tell(this.input.isHere);
    for (const tag of this.input.configurations) receiver.send(encodeTag({ ...tag, timeMs: 0 }));
    this.told();
    return () => {
      if (this.all.delete(receiver)) this.told();
    };
  }

  /** The encoder has come, or gone. One that took over from another begins anew, too: its times count from 0. */
  changed(): void {
    for (const [receiver, state] of this.all) {
      state.waits = true;
      if (this.input.isHere) receiver.tell(false);
      receiver.tell(this.input.isHere);
    }
  }

  tag(tag: FlvTag, body: VideoBody | AudioBody): void {
    if (this.all.size === 0) return;
    let bytes: Uint8Array | null = null;
    const isConfiguration = body.part === 'configuration';
    for (const [receiver, state] of this.all) {
      const isFull = receiver.waiting > MOST_WAITING_BYTES;
      if (body.track === 'video') {
        if (isFull || isConfiguration) state.waits = true;
        else if (body.part === 'frame' && body.key) state.waits = false;
      }
      // Without its configuration nothing that follows can be decoded: that is sent to whoever is slow, too.
      const isWanted = isConfiguration || !(isFull || (body.track === 'video' && state.waits));
      if (isWanted) receiver.send((bytes ??= encodeTag(tag)));
    }
  }

  close(): void {
    for (const receiver of this.all.keys()) receiver.closed();
    this.all.clear();
  }
}
