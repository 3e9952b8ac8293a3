import { DestroyRef, effect, inject, Injectable, Injector, signal } from '@angular/core';
import type { CanActivateFn } from '@angular/router';
import { Store } from '@ngrx/store';
import { programmeFeature } from '../../programme/programme.feature';
import type { ComposedShow, LeavingFor } from './leaving';
import { WakeLock } from './wake-lock';

/**
 * What this tab composes, known to every page of it, so that nobody takes the picture away from viewers unawares:
 * whoever closes the tab, signs out or opens another desk is asked first.
 */
@Injectable({ providedIn: 'root' })
export class ComposedHere {
  private readonly injector = inject(Injector);
  private readonly shown = signal<ComposedShow | null>(null);
  private readonly running = signal(false);
  private end: () => void = () => undefined;

  /** Null: nothing is composed here. */
  readonly show = this.shown.asReadonly();
  /** It goes out. As was known last, while another show is looked at. */
  readonly onAir = this.running.asReadonly();

  constructor() {
    const programme = inject(Store).selectSignal(programmeFeature.selectProgramme);
    const wakeLock = inject(WakeLock);
    effect(() => {
      const [show, now] = [this.shown(), programme()];
      if (!show) this.running.set(false);
      else if (now?.showId === show.id) this.running.set(now.runId !== null);
    });
    effect(() => wakeLock.want(this.running()));
    const onLeave = (event: Event) => this.onLeave(event);
    window.addEventListener('beforeunload', onLeave);
    inject(DestroyRef).onDestroy(() => window.removeEventListener('beforeunload', onLeave));
  }

  /** @param end what ends it in good order */
  began(show: ComposedShow, end: () => void): void {
    this.shown.set(show);
    this.end = end;
  }

  ended(): void {
    this.shown.set(null);
  }

  /** The browser asks whoever closes the page. Public for the specs: theirs takes a real event for its own end. */
  onLeave(event: Event): void {
    if (this.running()) event.preventDefault();
  }

  /** Whether to go on; what is composed here has been ended then. */
  async mayLeaveFor(leaving: LeavingFor): Promise<boolean> {
    const show = this.shown();
    if (!show || (leaving.what === 'desk' && leaving.showId === show.id)) return true;
    // Only whoever composes needs these.
    const [{ NgbModal }, { LeaveProgramme }] = await Promise.all([
      import('@ng-bootstrap/ng-bootstrap/modal'),
      import('./leave-programme'),
    ]);
    const looks = { ariaLabelledBy: 'leave-title', animation: false };
    const dialog = this.injector.get(NgbModal).open(LeaveProgramme, looks);
    (dialog.componentInstance as InstanceType<typeof LeaveProgramme>).ask(show, this.running(), leaving);
    const goOn = await (dialog.result as Promise<boolean>).catch(() => false);
    if (goOn) this.end();
    return goOn;
  }
}

/** Of the desk's address: another show's desk ends what is composed here. */
export const keepsProgramme: CanActivateFn = ({ params }) =>
  inject(ComposedHere).mayLeaveFor({ what: 'desk', showId: params['showId'] as string });
