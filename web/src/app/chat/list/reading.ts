import { computed, signal, type Signal } from '@angular/core';
import type { ChatMessage } from '@juncta/contract/chat';
import { isHeld, type Held } from './chat-rows';

/** Nearer to the foot than this, and the reader is at the newest. */
const AT_FOOT_PX = 40;
/** Nearer to the head than this, and what stands before is drawn. */
const AT_HEAD_PX = 300;
/** What somebody does with the list makes it scroll within this long; a scroll bar that is pulled, longer. */
const MEANT_MS = 700;
export const PULLED_MS = 5000;
/** So many of what comes while somebody reads back are drawn below it. */
const MOST_BELOW = 200;
/** So many rows are drawn at first, and so many more each time somebody reads back to the first of them. */
const DRAWN_ROWS = 80;

/** The list in which somebody reads. */
export interface ReadList {
  /** What it is of, in the order of writing. */
  readonly listed: Signal<readonly ChatMessage[]>;
  /** It is of what was found: that grows only when it is asked for. */
  readonly isFound: Signal<boolean>;
  /** Somebody deals with one of its messages. */
  readonly isChosen: () => boolean;
  readonly element: () => HTMLElement | undefined;
  /** Nothing that is older is here: it has to be asked for. */
  readonly earlier: () => void;
  /** What somebody may look at is not to be let go of. */
  readonly readingBack: () => void;
  /** What is older need not be kept here any more. */
  readonly atNewest: () => void;
}

/**
 * Where somebody reads in a list that grows at its foot. At the newest, the list goes with what comes; whoever reads
 * further up keeps what they read in its place, and what comes meanwhile is counted.
 */
export class Reading {
  /** The reader reads further up: these are what there was then, and stay where they are. Null: at the newest. */
  private readonly held = signal<Held | null>(null);
  private readonly most = signal(DRAWN_ROWS);
  private meantUntilMs = 0;

  constructor(private readonly list: ReadList) {}

  private readonly steady = computed(() => {
    const [held, listed] = [this.held(), this.list.listed()];
    if (!held || this.list.isFound()) return listed;
    const steady = listed.filter((message) => isHeld(held, message));
    const newer = steady.filter(({ id, writtenAtMs }) => writtenAtMs > held.toMs && !held.ids.has(id)).length;
    // On a loud evening what comes below would grow for as long as somebody reads.
    return newer > MOST_BELOW ? steady.slice(0, MOST_BELOW - newer) : steady;
  });
  /** What is drawn below what was there when somebody began to read back. */
  private readonly below = computed(() => {
    const [held, steady] = [this.held(), this.steady()];
    return held && !this.list.isFound()
      ? steady.filter(({ writtenAtMs }) => writtenAtMs > held.toMs).length
      : 0;
  });
  /** How many came while the reader read further up. */
  readonly unseen = computed(() => this.list.listed().length - this.steady().length + this.below());
  /** Only those that are near are drawn: a list of thousands costs as much as one of some dozens. */
  readonly drawn = computed(() => this.steady().slice(-this.most() - this.below()));
  /** All that is here is drawn. */
  readonly isAllDrawn = computed(() => this.drawn().length === this.steady().length);

  get isHeld(): boolean {
    return this.held() !== null;
  }

  /** Lists scroll for many reasons; only what a person does means that they read back. */
  mean(forMs = MEANT_MS): void {
    this.meantUntilMs = performance.now() + forMs;
  }

  scrolled(): void {
    const list = this.list.element();
    if (!list) return;
    const atFoot = this.isAtFoot();
    if (atFoot && this.isHeld && !this.list.isChosen()) this.release();
    else if (!atFoot && !this.isHeld && !this.list.isFound() && performance.now() < this.meantUntilMs)
      this.hold();
    if (list.scrollTop < AT_HEAD_PX && !atFoot) this.readBack();
  }

  /** What is read stays where it is, whatever comes meanwhile. */
  hold(): void {
    if (this.isHeld || this.list.isFound()) return;
    const listed = this.list.listed();
    this.held.set({
      ids: new Set(listed.map(({ id }) => id)),
      fromMs: listed[0]?.writtenAtMs ?? 0,
      toMs: listed.at(-1)?.writtenAtMs ?? 0,
    });
    this.list.readingBack();
  }

  /** At the newest again. */
  release(): void {
    this.held.set(null);
    this.most.set(DRAWN_ROWS);
    this.list.atNewest();
  }

  /** With what comes; whoever reads further up goes on reading. */
  goOn(): void {
    setTimeout(() => {
      if (this.isHeld && !this.list.isChosen() && this.isAtFoot()) this.release();
    });
  }

  /** Shows the newest, unless somebody reads back. */
  toFoot(): void {
    const list = this.list.element();
    if (!this.isHeld) list?.scrollTo({ top: list.scrollHeight });
  }

  /** Draws what stands before, and asks for it when it is not here. */
  private readBack(): void {
    if (!this.isAllDrawn()) this.most.update((rows) => rows + DRAWN_ROWS);
    else this.list.earlier();
  }

  private isAtFoot(): boolean {
    const list = this.list.element();
    return !list || list.scrollHeight - list.scrollTop - list.clientHeight < AT_FOOT_PX;
  }
}
