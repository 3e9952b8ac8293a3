import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { stageTexts } from '../stage.texts';
import type { NamedDevice } from './devices';
import { KINDS, type Kind } from './held-devices';

/** In the list: no device at all. Browsers give no device this id. */
const NONE = '';

/** Which camera and which microphone, by their names; each change is carried out at once. */
@Component({
  selector: 'jn-device-choice',
  template: `
    @for (list of lists(); track list.kind) {
      <label>
        {{ list.label }}
        <select class="input" #chosen (change)="choose(list.kind, chosen.value)">
          @for (device of list.devices; track device.id) {
            <option [value]="device.id" [selected]="device.id === list.used">{{ device.name }}</option>
          }
          <option [value]="none" [selected]="list.used === none">{{ texts.noDevice }}</option>
        </select>
      </label>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(10rem, 1fr));
      gap: var(--space-2);
    }
    label {
      display: grid;
      gap: var(--space-1);
      min-width: 0;
    }
    select {
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DeviceChoice {
  protected readonly texts = stageTexts;
  protected readonly none = NONE;
  readonly devices = input.required<readonly NamedDevice[]>();
  /** What is used at the moment. */
  readonly stream = input.required<MediaStream>();
  readonly chosen = output<{ kind: Kind; device: string | null }>();

  protected readonly lists = computed(() =>
    KINDS.map((kind) => ({
      kind,
      label: kind === 'video' ? stageTexts.chooseCamera : stageTexts.chooseMicrophone,
      devices: namedOf(this.devices(), kind),
      used: usedOf(this.stream(), kind),
    })),
  );

  protected choose(kind: Kind, device: string): void {
    this.chosen.emit({ kind, device: device === NONE ? null : device });
  }
}

/** Devices of a kind, each with something to call it by. */
export const namedOf = (devices: readonly NamedDevice[], kind: Kind): readonly NamedDevice[] =>
  devices
    .filter((device) => device.kind === kind)
    .map((device, i) => ({ ...device, name: device.name || stageTexts.unnamed(i + 1) }));

const usedOf = (stream: MediaStream, kind: Kind): string =>
  stream
    .getTracks()
    .find((track) => track.kind === kind)
    ?.getSettings().deviceId ?? NONE;
