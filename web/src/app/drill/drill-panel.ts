import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  type TemplateRef,
  untracked,
  viewChild,
} from '@angular/core';
import { rxResource } from '@angular/core/rxjs-interop';
import type { Destination } from '@juncta/contract/destinations';
import {
  causeFault,
  endDrill,
  publishDrilled,
  readDrill,
  runScript,
  startDrill,
  type DrillReport,
} from '@juncta/contract/drill';
import {
  DESK_FAULTS,
  HOUSE_FAULTS,
  PLACE_FAULTS,
  SEEN,
  secondsOf,
  usualSeconds,
  type FaultKind,
} from '@juncta/core/drill';
import { formatShowTime } from '@juncta/core/programme';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { catchError, EMPTY, exhaustMap, map, timer, type Observable } from 'rxjs';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { fileName, saveFile } from '../formats/save-file';
import { feedStateNames } from '../look/look.texts';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { StateMark } from '../look/state-mark';
import { Tile } from '../look/tile';
import { drillTexts, faultWords, seenWords } from './drill.texts';
import { SeenStrip, toldOf } from './seen-strip';

const EVERY_MS = 1000;

/** A drill of this show: begun, thrown at, watched and read afterwards. */
@Component({
  selector: 'jn-drill-panel',
  imports: [Key, Notice, SeenStrip, StateMark, Tile],
  templateUrl: './drill-panel.html',
  styleUrl: './drill-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DrillPanel {
  private readonly api = inject(Api);
  private readonly modals = inject(NgbModal);
  private readonly whole = viewChild.required<TemplateRef<unknown>>('whole');
  protected readonly texts = drillTexts;
  protected readonly faults = faultWords;
  protected readonly seenWords = seenWords;
  protected readonly kinds = SEEN;
  protected readonly placeFaults = PLACE_FAULTS;
  protected readonly deskFaults = DESK_FAULTS;
  protected readonly houseFaults = HOUSE_FAULTS;

  readonly showId = input.required<string>();
  readonly destinations = input.required<readonly Destination[]>();
  /** The relay says that one goes on. */
  readonly goesOn = input.required<boolean>();
  readonly mayRun = input.required<boolean>();
  /** There is a picture, and no show runs. */
  readonly canBegin = input.required<boolean>();

  protected readonly request = new RequestState();
  private readonly told = signal<DrillReport | null>(null);

  /** Asked for every second while it goes on; over the deaths that belong to it. */
  private readonly read = rxResource({
    params: () => ({ showId: this.showId(), goesOn: this.goesOn() }),
    stream: ({ params: { showId, goesOn } }) => {
      const ask = () => this.api.call(readDrill, { params: { showId } }).pipe(catchError(() => EMPTY));
      return (goesOn ? timer(0, EVERY_MS).pipe(exhaustMap(ask)) : ask()).pipe(map(({ drill }) => drill));
    },
  });
  protected readonly drill = this.told.asReadonly();
  protected readonly rows = computed(() =>
    (this.drill()?.places ?? []).flatMap((place) => {
      const destination = this.destinations().find(({ id }) => id === place.destinationId);
      if (!destination) return [];
      const now = place.timeline.at(-1)?.seen ?? 'not_yet';
      return [
        {
          destination,
          timeline: place.timeline,
          held: place.held && place.feed.state === 'held',
          now: drillTexts.see(seenWords[now]),
          told: toldOf(place.timeline),
          // Red is for what is on air, and a drill never is.
          mark:
            place.feed.state === 'on_air' ? ('line.good' as const) : (`feed.${place.feed.state}` as const),
          word: place.feed.state === 'on_air' ? drillTexts.shown : feedStateNames[place.feed.state],
        },
      ];
    }),
  );
  protected readonly elapsedS = computed(() =>
    Math.max(0, ...(this.drill()?.places ?? []).map(({ timeline }) => secondsOf(timeline))),
  );
  protected readonly elapsed = computed(() => formatShowTime(this.elapsedS() * 1000));
  protected readonly scriptLeft = computed(() => {
    const endsS = this.drill()?.scriptEndsS;
    return endsS == null ? null : Math.max(0, Math.round(endsS - this.elapsedS()));
  });
  protected readonly log = computed(() =>
    (this.drill()?.faults ?? []).map(({ atS, kind, destinationId }) => {
      const place = this.destinations().find(({ id }) => id === destinationId)?.rules.place;
      return {
        time: formatShowTime(atS * 1000),
        what: place ? `${place} ${faultWords[kind]}` : faultWords[kind],
      };
    }),
  );

  constructor() {
    effect(() => {
      const read = this.read.hasValue() ? this.read.value() : undefined;
      if (read !== undefined) untracked(() => this.told.set(read));
    });
  }

  /** Public for whoever offers a drill instead of something else. */
  begin(): void {
    this.order(this.api.call(startDrill, { params: { showId: this.showId() } }));
  }

  protected end(): void {
    this.order(this.api.call(endDrill, { params: { showId: this.showId() } }));
  }

  protected script(): void {
    this.order(this.api.call(runScript, { params: { showId: this.showId() } }));
  }

  protected publish(destinationId: string): void {
    const params = { showId: this.showId() };
    this.order(this.api.call(publishDrilled, { params, body: { destinationId } }));
  }

  /** @param chosen a kind of fault, behind the place it is about where it is one of a place */
  protected cause(chosen: string): void {
    const [kind, destinationId = null] = chosen.split(' ') as [FaultKind, string?];
    const body = { kind, destinationId, seconds: usualSeconds(kind) };
    const params = { showId: this.showId() };
    this.order(this.api.call(causeFault, { params, body }), () => {
      // A desk that is lost: the page is gone, and comes back as after any reload.
      if (kind === 'desk_lost') location.reload();
    });
  }

  protected look(): void {
    this.modals.open(this.whole(), {
      ariaLabelledBy: 'drill-report-title',
      size: 'lg',
      windowClass: 'night',
      animation: false,
    });
  }

  protected save(): void {
    const drill = this.drill();
    if (!drill) return;
    const places = drill.places.map((place) => ({
      ...place,
      name: this.destinations().find(({ id }) => id === place.destinationId)?.name ?? null,
    }));
    const name = `${fileName(`drill ${new Date(drill.startedAtMs).toISOString()}`)}.json`;
    saveFile(name, 'application/json', JSON.stringify({ ...drill, places }, null, 1));
  }

  private order(asked: Observable<{ drill: DrillReport | null }>, then?: () => void): void {
    this.request.run(asked, ({ drill }) => {
      this.told.set(drill);
      then?.();
    });
  }
}
