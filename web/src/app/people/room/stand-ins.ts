import { inject, Injectable, signal } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { listStandInGuests, sendAwayStandInGuest, sendInStandInGuest } from '@juncta/contract/people';
import { firstValueFrom } from 'rxjs';
import { Api } from '../../api/api';

/** Made-up guests, for whoever is alone: whether there are any, and sending them in and away. */
@Injectable({ providedIn: 'root' })
export class StandIns {
  private readonly api = inject(Api);
  private showId: string | null = null;

  readonly available = signal(false);
  /** People of the show that are played by the helper. */
  readonly personIds = signal<readonly string[]>([]);
  readonly busy = signal(false);
  readonly problem = signal<string | null>(null);

  async open(showId: string): Promise<void> {
    if (this.showId === showId) return;
    this.showId = showId;
    await this.try(() => this.read(showId));
  }

  async sendIn(): Promise<void> {
    const { showId } = this;
    if (!showId || this.busy() || !this.available()) return;
    await this.try(async () => {
      await firstValueFrom(this.api.call(sendInStandInGuest, { params: { showId } }));
      await this.read(showId);
    });
  }

  async sendAway(personId: string): Promise<void> {
    const { showId } = this;
    if (!showId || this.busy()) return;
    await this.try(async () => {
      await firstValueFrom(this.api.call(sendAwayStandInGuest, { params: { showId, personId } }));
      await this.read(showId);
    });
  }

  private async read(showId: string): Promise<void> {
    const { available, guests } = await firstValueFrom(
      this.api.call(listStandInGuests, { params: { showId } }),
    );
    if (this.showId !== showId) return;
    this.available.set(available);
    this.personIds.set(guests.map(({ personId }) => personId));
  }

  private async try(act: () => Promise<void>): Promise<void> {
    this.busy.set(true);
    this.problem.set(null);
    try {
      await act();
    } catch (error) {
      this.problem.set((error as ErrorBody).sentence);
    } finally {
      this.busy.set(false);
    }
  }
}
