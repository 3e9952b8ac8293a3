import { DOCUMENT } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import {
  addPlacement,
  beginConnecting,
  disconnectAccount,
  listAccounts,
  readPlacements,
  type Destination,
  type PlaceAccount,
  type Placement,
} from '@juncta/contract/destinations';
import type { Response } from '@juncta/contract/http';
import { TILE_PATTERNS } from '@juncta/core/destinations';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { accountTexts } from './accounts.texts';

/** Accounts whose owners have let us in: connecting them, and choosing where in them shows go. */
@Component({
  selector: 'jn-accounts-panel',
  imports: [ArmedKey, Key, Notice],
  templateUrl: './accounts-panel.html',
  styleUrl: './accounts-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AccountsPanel {
  private readonly api = inject(Api);
  private readonly location = inject(DOCUMENT).location;
  protected readonly texts = accountTexts;

  readonly destinations = input.required<readonly Destination[]>();
  /** The account that was just connected, from the address. */
  readonly account = input<string>();
  /** What came of connecting, from the address. */
  readonly connecting = input<string>();
  /** A destination was added, or some were removed. */
  readonly changed = output();

  protected readonly known = signal<Response<typeof listAccounts> | null>(null);
  protected readonly request = new RequestState();
  protected readonly opened = signal<string | null>(null);
  protected readonly placements = signal<readonly Placement[] | null>(null);
  /** Shows that an account's leaving would touch; null: nobody asked. */
  protected readonly touched = signal<{ id: string; shows: readonly { title: string }[] } | null>(null);
  protected readonly outcome = computed(() => {
    const said = this.connecting();
    return said !== undefined && said in accountTexts.outcomes
      ? accountTexts.outcomes[said as keyof typeof accountTexts.outcomes]
      : null;
  });

  constructor() {
    this.read(() => {
      const id = this.account();
      const connected = this.known()?.accounts.find((one) => one.id === id);
      if (connected) this.open(connected);
    });
  }

  protected connect(kind: PlaceAccount['kind'], accountId: string | null): void {
    this.request.run(this.api.call(beginConnecting, { body: { kind, accountId } }), ({ url }) =>
      this.location.assign(url),
    );
  }

  protected open({ id }: PlaceAccount): void {
    if (this.opened() === id) {
      this.opened.set(null);
      return;
    }
    this.opened.set(id);
    this.placements.set(null);
    this.request.run(this.api.call(readPlacements, { params: { accountId: id } }), ({ placements }) => {
      this.placements.set(placements);
    });
  }

  protected add(account: PlaceAccount, placement: Placement): void {
    const taken = this.destinations().map(({ code }) => code);
    const body = {
      id: crypto.randomUUID(),
      placementId: placement.id,
      name: `${account.place}, ${placement.name}`.slice(0, 80),
      code: freeCode(account.place, placement.name, taken),
      pattern: TILE_PATTERNS[taken.length % TILE_PATTERNS.length]!,
    };
    this.request.run(this.api.call(addPlacement, { params: { accountId: account.id }, body }), () => {
      this.changed.emit();
      this.opened.set(null);
      this.open(account);
    });
  }

  protected disconnect({ id }: PlaceAccount, sure: boolean): void {
    this.request.run(
      this.api.call(disconnectAccount, { params: { accountId: id }, body: { sure } }),
      ({ done, shows }) => {
        this.touched.set(done ? null : { id, shows });
        if (!done) return;
        this.read();
        this.changed.emit();
      },
    );
  }

  /** A place can have several. */
  protected called({ place, name }: PlaceAccount): string {
    return `${place}, ${name}`;
  }

  protected titles(shows: readonly { title: string }[]): string {
    return shows.map(({ title }) => `“${title}”`).join(', ');
  }

  private read(then?: () => void): void {
    this.request.run(this.api.call(listAccounts), (known) => {
      this.known.set(known);
      then?.();
    });
  }
}

/** Two letters that no other tile has: of the place, else of the place and the placement, else with a figure. */
function freeCode(place: string, placement: string, taken: readonly string[]): string {
  const first = place[0]!;
  const letters = `${place.slice(1)}${placement}23456789`.match(/[a-z0-9]/gi) ?? [];
  const codes = letters.map((letter) => (first + letter).toUpperCase());
  return codes.find((code) => !taken.includes(code)) ?? codes[0]!;
}
