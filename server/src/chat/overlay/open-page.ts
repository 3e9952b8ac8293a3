import { SAMPLE_S, type OverlayView } from '@juncta/contract/chat';
import { messagesInBox, type BoxLine, type OverlayBox } from '@juncta/core/stage';
import type { OverlayContent } from './overlay-content';
import type { OverlayMessage } from './overlay-store';

/** Of the last messages that came onto a page: so many delays are kept. */
const MOST_DELAYS = 31;
/** Views whose coming onto the screen has not been told yet. */
const MOST_AWAITED = 32;

const SAMPLES: readonly BoxLine[] = [
  { author: 'A viewer', place: 'Sample', text: 'This is where viewers’ messages will stand.' },
  {
    author: 'Another viewer',
    place: 'Sample',
    text: 'A longer one takes more lines, so leave room for what people write when they have a question that needs a few words more.',
  },
];
const SAMPLE_CARD: BoxLine = {
  author: 'A viewer',
  place: 'Sample',
  text: 'And this is where a message stands that the desk puts on the programme.',
};

/** What a page that is open somewhere shows from one instant to the next. All instants in ms, by one and the same clock. */
export class OpenPage {
  private content: OverlayContent | null = null;
  private box: OverlayBox | null = null;
  private cardUntilMs = Infinity;
  private sampleUntilMs = -Infinity;
  private number = 0;
  private told = '';
  private ids: ReadonlySet<string> = new Set();
  /** By the number of a view: when the newest of what is new in it might have been shown. */
  private readonly awaited = new Map<number, number>();
  private readonly delays: number[] = [];
  /** What was there before it was read first is not late. */
  private sinceMs = Infinity;

  /** What is there to be shown, as it was read just now. */
  read(content: OverlayContent, box: OverlayBox, nowMs: number): void {
    this.content = content;
    this.box = box;
    // Viewers would read them.
    if (content.isOn) this.sampleUntilMs = -Infinity;
    this.sinceMs = Math.min(this.sinceMs, nowMs);
    this.cardUntilMs = nowMs + (content.card?.remainingMs ?? Infinity);
  }

  get showId(): string | null {
    return this.content?.showId ?? null;
  }

  sample(nowMs: number): void {
    this.sampleUntilMs = nowMs + SAMPLE_S * 1000;
  }

  /** Its dressing's own typefaces may be asked for, and nothing else. */
  get faces(): readonly string[] {
    const faces = Object.values(this.content?.dressing.faces ?? {});
    return faces.flatMap((face) => (typeof face === 'string' ? [] : [face.id]));
  }

  /**
   * What is to be seen now.
   *
   * @returns isNew: it is another than the one that was given before; null: nothing was read yet
   */
  look(nowMs: number): { view: OverlayView; isNew: boolean } | null {
    const { content, box } = this;
    if (!content || !box) return null;
    const isSample = nowMs < this.sampleUntilMs;
    const messages = messagesInBox(content.messages, { ...box, isOn: true }, nowMs);
    const lines = isSample
      ? SAMPLES.slice(0, box.most)
      : messages.map(({ author, destinationId, text }) => ({
          author,
          place: content.placeOf(destinationId),
          text,
        }));
    const card = isSample && box.card ? SAMPLE_CARD : nowMs < this.cardUntilMs ? content.card?.line : null;
    const seen = { dressing: content.dressing, box, lines, card: card ?? null };
    const told = JSON.stringify(seen);
    const isNew = told !== this.told;
    if (isNew) {
      this.told = told;
      this.number += 1;
      if (!isSample) this.await(messages, box);
    }
    return { view: { number: this.number, ...seen }, isNew };
  }

  /** A page has this view on its screen. */
  shown(number: number, nowMs: number): void {
    const dueMs = this.awaited.get(number);
    if (dueMs === undefined) return;
    this.awaited.delete(number);
    this.delays.push(Math.max(0, nowMs - dueMs));
    if (this.delays.length > MOST_DELAYS) this.delays.shift();
  }

  /** The median of the last ones; null: none is known. */
  get delayMs(): number | null {
    const sorted = this.delays.toSorted((a, b) => a - b);
    return sorted[Math.floor(sorted.length / 2)] ?? null;
  }

  private await(messages: readonly OverlayMessage[], { delayS }: OverlayBox): void {
    const due = messages
      .filter(({ id }) => !this.ids.has(id))
      .map(({ writtenAtMs, receivedAtMs }) => Math.max(writtenAtMs + delayS * 1000, receivedAtMs));
    this.ids = new Set(messages.map(({ id }) => id));
    const newest = Math.max(...due);
    if (due.length === 0 || newest < this.sinceMs) return;
    this.awaited.set(this.number, newest);
    for (const [oldest] of this.awaited) {
      if (this.awaited.size <= MOST_AWAITED) break;
      this.awaited.delete(oldest);
    }
  }
}
