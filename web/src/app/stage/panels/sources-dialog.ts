import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import type { ShowPerson } from '@juncta/contract/shows';
import { DESK_OWNER, freeSource, nameOf, type SourceId } from '@juncta/core/stage';
import { NgbActiveModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { ComposingDesk } from '../composing-desk';
import { listDevices, type DeviceChoice, type NamedDevice } from '../sources/devices';
import { DeviceChoice as DeviceChoiceFields, namedOf } from '../sources/device-choice';
import type { Kind } from '../sources/held-devices';
import { deviceSentences, stageTexts } from '../stage.texts';
import { SourceNames } from '../source-names';
import { wordsOf } from './source-words';

/** In a list of devices: the browser's choice, or none at all. */
const USUAL = 'usual';
const NONE = 'none';

/** What this computer can put into the picture: cameras and microphones by their names, screens, test patterns. */
@Component({
  selector: 'jn-sources-dialog',
  imports: [DeviceChoiceFields, Key, Notice],
  templateUrl: './sources-dialog.html',
  styleUrl: './sources-dialog.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SourcesDialog {
  protected readonly modal = inject(NgbActiveModal);
  private readonly desk = inject(ComposingDesk);
  private readonly sources = this.desk.sources;
  private readonly sourceNames = inject(SourceNames);
  protected readonly hasDevices = !(this.desk.missing() ?? []).includes('devices');
  protected readonly texts = stageTexts;
  protected readonly desksOwn = DESK_OWNER;
  protected readonly usual = USUAL;
  protected readonly none = NONE;

  protected readonly people = signal<readonly ShowPerson[]>([]);
  protected readonly owner = signal<string>(DESK_OWNER);
  protected readonly devices = signal<readonly NamedDevice[]>([]);
  protected readonly camera = signal(USUAL);
  protected readonly busy = signal(false);
  protected readonly isGrainy = signal(false);
  protected readonly isFilm = signal(false);

  protected readonly cameras = computed(() => namedOf(this.devices(), 'video'));
  protected readonly microphones = computed(() => namedOf(this.devices(), 'audio'));
  protected readonly given = computed(() => {
    const names = this.sourceNames.of(this.people());
    return Object.values(this.sources.known())
      .filter(({ origin }) => origin !== 'guest')
      .map(({ source, origin }) => ({
        source,
        words: wordsOf(source, names),
        kind: stageTexts.kinds[origin],
        stream: origin === 'camera' ? this.sources.streamOf(source) : null,
      }));
  });
  /** Whoever is heard by one camera is not to be heard by the next one too. */
  protected readonly microphone = linkedSignal<string>(() =>
    this.ownedBy(this.owner()).some(({ kind }) => kind === 'camera') ? NONE : USUAL,
  );
  protected readonly problem = computed(() => {
    const problem = this.sources.deviceProblem();
    return problem && deviceSentences[problem];
  });

  /** @param me whoever sits at this desk, by their id in the show; null: nobody of the show */
  show(people: readonly ShowPerson[], me: string | null): void {
    this.people.set(people);
    this.owner.set(me ?? people[0]?.id ?? DESK_OWNER);
    void this.look();
  }

  protected async addCamera(): Promise<void> {
    const choice = { ...chosen('video', this.camera()), ...chosen('audio', this.microphone()) };
    await this.whileBusy(this.sources.addAnotherCamera(this.owner(), choice));
    // Once it was allowed, the browser names what there is.
    await this.look();
  }

  protected addScreen(): Promise<void> {
    return this.whileBusy(this.sources.addScreen(this.owner(), this.isFilm()));
  }

  protected addPattern(): void {
    const taken = Object.keys(this.sources.known()) as SourceId[];
    this.sources.addPattern(freeSource('camera', this.owner(), taken), this.isGrainy());
  }

  protected async choose(
    source: SourceId,
    { kind, device }: { kind: Kind; device: string | null },
  ): Promise<void> {
    await this.whileBusy(this.sources.choose(source, kind, device));
  }

  protected drop(source: SourceId): void {
    this.desk.dropSource(source);
  }

  private ownedBy(owner: string) {
    const known = Object.keys(this.sources.known()) as SourceId[];
    return known.map(nameOf).filter((name) => name.owner === owner);
  }

  private async whileBusy(asked: Promise<void>): Promise<void> {
    this.busy.set(true);
    await asked;
    this.busy.set(false);
  }

  private async look(): Promise<void> {
    if (this.hasDevices) this.devices.set(await listDevices());
  }
}

const chosen = (kind: Kind, value: string): DeviceChoice =>
  value === USUAL ? {} : { [kind]: value === NONE ? null : value };
