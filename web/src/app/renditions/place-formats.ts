import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Destination } from '@juncta/contract/destinations';
import { AIRED_AUDIO_KBPS, figuresOf, type PictureFormat } from '@juncta/core/programme';
import { planProgramme, type ProgrammePlan } from '@juncta/core/renditions';
import { videoWithin } from '@juncta/core/uplink';
import { EncodingMachineHere } from './encoding-machine';
import { renditionTexts } from './renditions.texts';

export const placesOf = (destinations: readonly Destination[]) =>
  destinations.map(({ id, rules }) => ({ id, encoder: rules.capabilities.encoder }));

/** Before a show: which of its places get a picture of their own in this format, what that takes, and who gets none. */
@Component({
  selector: 'jn-place-formats',
  template: `
    @if (destinations().length > 0) {
      <ul class="plain soft" [attr.aria-label]="texts.title" aria-live="polite">
        @for (line of lines(); track line.text) {
          <li [class.warn]="line.isWarning">{{ line.text }}</li>
        }
      </ul>
    }
  `,
  styles: `
    ul {
      display: grid;
      gap: var(--space-1);
      margin: 0;
      overflow-wrap: anywhere;
    }
    .warn {
      color: var(--saffron-text);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlaceFormats {
  private readonly here = inject(EncodingMachineHere);
  protected readonly texts = renditionTexts;

  readonly format = input.required<PictureFormat>();
  readonly destinations = input.required<readonly Destination[]>();

  protected readonly lines = computed(() => {
    const [format, destinations, machine] = [this.format(), this.destinations(), this.here.machine()];
    const plan = planProgramme(format, placesOf(destinations), machine);
    const known = machine ? [...aboutRoom(plan, machine.cores, machine.isMeasured)] : [];
    const lines = [...aboutPlaces(plan, format, destinations), ...known];
    return lines.length > 0 ? lines : [{ text: renditionTexts.all, isWarning: false }];
  });

  constructor() {
    this.here.ask();
  }
}

interface Line {
  readonly text: string;
  readonly isWarning: boolean;
}

function aboutPlaces(
  plan: ProgrammePlan,
  format: PictureFormat,
  destinations: readonly Destination[],
): readonly Line[] {
  const named = (ids: readonly string[]) =>
    destinations.flatMap(({ id, name }) => (ids.includes(id) ? [name] : [])).join(', ');
  const lines: Line[] = plan.renditions.map(({ rendition, places, cores }) => ({
    text: renditionTexts.apart(named(places), renditionTexts.picture(rendition), cores),
    isWarning: false,
  }));
  for (const { name, rules } of destinations.filter(({ id }) => plan.unserved.includes(id)))
    lines.push({
      text: renditionTexts.none(name, renditionTexts.takes(format, rules.capabilities.encoder)),
      isWarning: true,
    });
  // A tenth less is seen by nobody, and not worth a word.
  const { videoKbps } = plan.programme;
  if (videoKbps < figuresOf(format).wantedKbps * SEEN_BELOW)
    lines.push({
      text: renditionTexts.lowered(videoKbps, named(strictestOf(plan, destinations))),
      isWarning: true,
    });
  return lines;
}

/** Those for whose sake the programme has no more bits. */
const strictestOf = ({ copied, programme }: ProgrammePlan, destinations: readonly Destination[]) =>
  destinations
    .filter(({ id }) => copied.includes(id))
    .filter(
      ({ rules }) => videoWithin(rules.capabilities.encoder.maxKbps, AIRED_AUDIO_KBPS) <= programme.videoKbps,
    )
    .map(({ id }) => id);

const SEEN_BELOW = 0.9;

function* aboutRoom(plan: ProgrammePlan, cores: number, isMeasured: boolean): Generator<Line> {
  if (plan.renditions.length === 0) return;
  yield { text: renditionTexts.left(cores - plan.cores), isWarning: false };
  if (!isMeasured) yield { text: renditionTexts.estimated, isWarning: false };
}
