import { computed, inject, Injectable, signal } from '@angular/core';
import { measuresOf } from '@juncta/core/dressing';
import { figuresOf, USUAL_FORMAT, type PictureFormat } from '@juncta/core/programme';
import type { BoxLine, Stage } from '@juncta/core/stage';
import type { Show, Start } from '@juncta/contract/shows';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { Dressings } from '../../dressing/dressings';
import {
  imagesOfScene,
  type DrawnBackdrop,
  type DrawnEntry,
  type DrawnGraphics,
  type Setting,
} from '../messages';
import { stageTexts } from '../stage.texts';
import { drawGraphics } from './drawn-graphics';
import { drawChatEntries } from './drawn-chat-box';
import { drawMessageCard, drawNoticeCard, drawScene, type Look, type Named } from './drawn-scene';
import { drawBackdrop, drawSlate } from './grounds';
import { loadDressed } from './images';

/** What is known of a show that is opened at a desk. */
export interface OpenedShow {
  readonly id: string;
  readonly title: string;
  readonly people: readonly Named[];
  readonly seriesId: string | null;
  readonly pictureFormat: PictureFormat;
  /** Null: no start is set yet. */
  readonly start: Start | null;
}

export const openedOf = ({ id, text, pictureFormat }: Show): OpenedShow => ({ ...text, id, pictureFormat });

/** Draws what stands behind and over the pictures of the show that is open here: in its dressing, as large as its programme. */
@Injectable({ providedIn: 'root' })
export class ShowDrawing {
  private readonly dressings = inject(Dressings);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  private readonly show = signal<OpenedShow | null>(null);

  /** Size and rate of the show's programme. */
  readonly pictureFormat = computed(() => this.show()?.pictureFormat ?? USUAL_FORMAT);
  readonly picture = computed(() => figuresOf(this.pictureFormat()));
  readonly title = computed(() => this.show()?.title ?? '');
  /** As viewers read it on the slate: by the clocks of the place where the show is. */
  readonly begins = computed(() => {
    const start = this.show()?.start;
    if (!start) return '';
    const time = start.local.slice(11, 16);
    return stageTexts.begins(time, this.format.city(start.zone));
  });
  readonly people = computed(() => this.show()?.people ?? []);
  /** By its own figures: events bring one that is the same as another object. */
  readonly dressing = computed(() => this.dressings.of(this.show()?.seriesId ?? null), { equal: sameJson });
  readonly look = computed<Look>(() => ({ dressing: this.dressing(), size: this.picture() }));

  /** Between two pictures in a layout, a share of the picture's height. */
  readonly space = computed(() => measuresOf(this.dressing()).space);

  /** As it is planned from now on. */
  put(show: OpenedShow): void {
    this.show.set(show);
    void this.dressings.follow();
  }

  /** Done when the dressing is known and its faces are there: what is drawn waits for both. */
  async ready(): Promise<void> {
    await this.dressings.follow();
    await loadDressed(this.dressing());
  }

  backdrop(): DrawnBackdrop {
    return drawBackdrop(this.dressing(), this.picture());
  }

  slate({ slate }: Stage): ImageBitmap {
    return drawSlate(this.dressing(), slate, { title: this.title(), begins: this.begins() }, this.picture());
  }

  setting({ programme, armed, takes, transition, adjustments }: Stage): Setting {
    return {
      programme: drawScene(programme, this.people(), adjustments, this.look()),
      armed: armed && drawScene(armed, this.people(), adjustments, this.look()),
      takes,
      mixMs: transition.kind === 'mix' ? transition.ms : 0,
    };
  }

  graphics({ graphics }: Stage): DrawnGraphics {
    const time = { machineAtMs: Date.now(), atMs: this.clock.now(), rate: this.clock.rate() };
    return drawGraphics(graphics, this.look(), time);
  }

  chatEntries(lines: readonly BoxLine[], { graphics }: Stage): DrawnEntry[] {
    return drawChatEntries(lines, graphics.chat, this.look());
  }

  messageCard(author: string, place: string, text: string): ImageBitmap {
    return drawMessageCard(author, place, text, this.look());
  }

  noticeCard(heading: string, text: string): ImageBitmap {
    return drawNoticeCard(heading, text, this.look());
  }
}

const sameJson = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Those that go over with a setting. */
export const imagesIn = ({ programme, armed }: Setting): ImageBitmap[] =>
  [programme, armed].flatMap((drawn) => (drawn ? imagesOfScene(drawn) : []));
