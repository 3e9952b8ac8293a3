import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import type { Input, InputSettings as Settings } from '@juncta/contract/ingest';
import { ON_ARRIVAL, SECOND_SENDERS, TRANSPORTS } from '@juncta/core/ingest';
import { readSrtKey, writeSrtKey } from '@juncta/core/media/srt';
import { ArmedKey } from '../look/keys/armed-key';
import { Key } from '../look/keys/key';
import { ingestTexts } from './ingest.texts';
import { ShowInputs } from './show-inputs';

/** What a team makes of one input. All but where an encoder is called takes effect as it is chosen. */
@Component({
  selector: 'jn-input-settings',
  imports: [ArmedKey, Key],
  templateUrl: './input-settings.html',
  styles: `
    :host {
      display: grid;
      gap: var(--space-1);
      max-width: 30rem;
      margin-top: var(--space-2);
    }
    form {
      display: grid;
      gap: var(--space-1);
      padding: var(--space-2) 0 var(--space-2) var(--space-3);
      border-left: 2px solid var(--rule);
    }
    p {
      margin: 0;
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      margin-top: var(--space-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InputSettings {
  protected readonly state = inject(ShowInputs);
  protected readonly texts = ingestTexts;
  protected readonly seconds = SECOND_SENDERS;
  protected readonly arrivals = ON_ARRIVAL;

  readonly input = input.required<Input>();

  protected readonly transports = computed(() =>
    TRANSPORTS.filter((one) => one !== 'srt' || this.state.hasSrt()),
  );
  private readonly transportNow = computed(() => this.input().transport);
  /** What is chosen, which is not so yet where it waits for an address: other settings may be changed meanwhile. */
  protected readonly transport = linkedSignal(() => this.transportNow());
  protected readonly isCalled = computed(() => this.transport() === 'srt_called');
  protected readonly called = computed(() => {
    const { transport, address, key } = this.input();
    const isCalled = transport === 'srt_called';
    return { address: isCalled ? address : '', ...readSrtKey(isCalled ? key : '') };
  });

  protected set(change: Partial<Settings>): void {
    const { id, name, transport, second, onArrival, isStanding } = this.input();
    this.state.put(id, { name, transport, second, onArrival, isStanding, ...change });
  }

  protected choose(value: string): void {
    const transport = TRANSPORTS.find((one) => one === value) ?? 'rtmp';
    this.transport.set(transport);
    if (transport !== 'srt_called' && transport !== this.input().transport) this.set({ transport });
  }

  protected call(event: Event, address: string, streamId: string, passphrase: string): void {
    event.preventDefault();
    const key = writeSrtKey({ streamId, passphrase });
    this.set({ transport: 'srt_called', called: { address, key } });
  }

  protected secondOf(value: string): Input['second'] {
    return SECOND_SENDERS.find((one) => one === value) ?? 'refused';
  }

  protected arrivalOf(value: string): Input['onArrival'] {
    return ON_ARRIVAL.find((one) => one === value) ?? 'waits';
  }
}
