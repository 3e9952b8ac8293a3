import type { StandInKind } from '@juncta/contract/ingest';
import { Refusal } from '../http/errors';

const PATIENCE_MS = 20_000;

/** Made-up encoders of the demo: a helper process that sends over the network like any other. */
export class StandInEncoders {
  /** @param url of the helper's door; null: there is none */
  constructor(private readonly url: string | null) {}

  get isThere(): boolean {
    return this.url !== null;
  }

  start(inputId: string, kind: StandInKind, address: string, key: string): Promise<void> {
    return this.ask('PUT', inputId, { kind, address, key });
  }

  stop(inputId: string): Promise<void> {
    return this.url === null ? Promise.resolve() : this.ask('DELETE', inputId);
  }

  private async ask(method: string, inputId: string, body?: object): Promise<void> {
    const response = await fetch(new URL(`/encoders/${inputId}`, this.url!), {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
      signal: AbortSignal.timeout(PATIENCE_MS),
    }).catch(() => null);
    if (!response?.ok)
      throw new Refusal(
        'not_ready',
        'The helper that plays the stand-in encoder does not answer. Try again in a few seconds.',
      );
  }
}
