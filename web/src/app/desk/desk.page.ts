import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  type TemplateRef,
  viewChild,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { phaseAt } from '@juncta/core/shows';
import { formatShowTime } from '@juncta/core/stage';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { EventFeed } from '../api/event-feed';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/key';
import { StateMark, type MarkedState } from '../look/state-mark';
import { TimeFigure } from '../look/time-figure';
import { TimeLine, type LineMark } from '../look/time-line';
import { shellTexts } from '../shell/shell.texts';
import { showsFeature } from '../shows/shows.feature';
import { partNames, phaseNames } from '../shows/shows.texts';
import { deskTexts } from './desk.texts';
import { isTyping } from './is-typing';

const MINUTE = 60_000;
/** The strip shows so much before and after the planned time. */
const LINE_BEFORE_MS = 60 * MINUTE;
const LINE_AFTER_MS = 30 * MINUTE;

/** The desk: the live control view of one show. Everything on it has its place, whether it is there yet or not. */
@Component({
  selector: 'jn-desk-page',
  imports: [Key, RouterLink, StateMark, TimeFigure, TimeLine],
  templateUrl: './desk.page.html',
  styleUrl: './desk.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'night', '(document:keydown)': 'onKey($event)' },
})
export class DeskPage {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly modal = inject(NgbModal);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly format = inject(TimeFormat);
  protected readonly clock = inject(PageClock);
  protected readonly connected = inject(EventFeed).connected;
  protected readonly texts = deskTexts;
  protected readonly lostText = shellTexts.lost;
  protected readonly partNames = partNames;

  readonly showId = input.required<string>();
  private readonly keysDialog = viewChild.required<TemplateRef<unknown>>('keys');
  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  protected readonly show = computed(() => this.entities()[this.showId()] ?? null);
  protected readonly nowMs = this.clock.nowMs;

  protected readonly state = computed((): MarkedState => {
    const show = this.show();
    if (!show) return 'phase.plan';
    const { phase, overdue } = phaseAt(show, this.nowMs());
    return overdue ? 'phase.overdue' : `phase.${phase}`;
  });
  protected readonly word = computed(() => {
    const state = this.state().split('.')[1] as keyof typeof phaseNames;
    return phaseNames[state];
  });
  /** To the planned start, as h:mm:ss; how late it is once that has gone by. */
  protected readonly toGo = computed(() => {
    const at = this.show()?.startsAtMs;
    if (at == null) return null;
    const ahead = at - this.nowMs();
    return { text: formatShowTime(Math.abs(ahead)), late: ahead < 0 };
  });
  protected readonly line = computed(() => {
    const show = this.show();
    const start = show?.startsAtMs;
    if (!show || start == null) return null;
    const lengthMs = show.text.plannedMinutes * MINUTE;
    const [from, to] = [this.format.time(start), this.format.time(start + lengthMs)];
    const mark: LineMark = {
      id: show.id,
      atMs: start,
      lengthMs,
      name: deskTexts.planned(from, to),
      state: this.state(),
    };
    // Wide enough for now, up to a day away from the start; beyond that the line is of the show alone.
    const near = Math.abs(this.nowMs() - start) < 24 * 60 * MINUTE;
    return {
      fromMs: Math.min(start - LINE_BEFORE_MS, near ? this.nowMs() - LINE_AFTER_MS : Infinity),
      toMs: Math.max(start + lengthMs + LINE_AFTER_MS, near ? this.nowMs() + LINE_AFTER_MS : -Infinity),
      marks: [mark],
    };
  });

  protected onKey(event: KeyboardEvent): void {
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || this.modal.hasOpenModals())
      return;
    switch (event.key) {
      case '?':
        this.openKeys();
        break;
      case 'p':
        void this.router.navigate(['/shows', this.showId()]);
        break;
      case 'F6':
        this.nextPanel(event.shiftKey ? -1 : 1);
        break;
      default:
        return;
    }
    event.preventDefault();
  }

  protected openKeys(): void {
    this.modal.open(this.keysDialog(), { ariaLabelledBy: 'keys-title', windowClass: 'night' });
  }

  private nextPanel(step: 1 | -1): void {
    const panels = [...this.element.nativeElement.querySelectorAll<HTMLElement>('section')];
    const at = panels.findIndex((panel) => panel.contains(document.activeElement));
    const next = at < 0 && step < 0 ? panels.length - 1 : (at + step + panels.length) % panels.length;
    panels[next]?.focus();
  }
}
