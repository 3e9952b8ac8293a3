import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { readHouseRules, type HouseRules } from '@juncta/contract/destinations';
import { readHouseDefaults, saveHouseDefaults, type HouseDefaults } from '@juncta/contract/listings';
import { SETTING_IDS, SETTING_KINDS, type SettingId, type SettingValue } from '@juncta/core/listings';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Notice } from '../../look/notice';
import { showsFeature } from '../../shows/shows.feature';
import { houseDefaultsTexts, listingTexts, settingTexts } from '../listings.texts';
import { readSetting, writeSetting } from './setting-text';

/** One setting as the house can lay it down: for every place that has it. */
interface Row {
  readonly id: SettingId;
  /** Of all places together. */
  readonly options: readonly string[];
  readonly places: string;
}

/** What the house wants wherever a place has it: the team's, and of a series where it differs. Saved as it is changed. */
@Component({
  selector: 'jn-house-defaults-panel',
  imports: [Notice],
  templateUrl: './house-defaults-panel.html',
  styleUrl: './house-defaults-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HouseDefaultsPanel {
  private readonly api = inject(Api);
  protected readonly texts = houseDefaultsTexts;
  protected readonly listing = listingTexts;
  protected readonly names = settingTexts;
  protected readonly kinds = SETTING_KINDS;
  protected readonly series = inject(Store).selectSignal(showsFeature.selectSeries);

  readonly mayChange = input.required<boolean>();
  /** Null: the team's. */
  protected readonly seriesId = signal<string | null>(null);
  protected readonly defaults = signal<HouseDefaults | null>(null);
  private readonly rules = signal<readonly HouseRules[]>([]);
  protected readonly request = new RequestState();
  protected readonly saved = signal(false);

  protected readonly rows = computed((): readonly Row[] =>
    SETTING_IDS.flatMap((id) => {
      const having = this.rules().flatMap(({ place, capabilities }) => {
        const setting = capabilities.settings.find((one) => one.id === id);
        return setting ? [{ place, setting }] : [];
      });
      if (having.length === 0) return [];
      const options = [...new Set(having.flatMap(({ setting }) => setting.options))];
      return [{ id, options, places: having.map(({ place }) => place).join(', ') }];
    }),
  );
  protected readonly values = computed(() => {
    const [defaults, seriesId] = [this.defaults(), this.seriesId()];
    return (seriesId === null ? defaults?.team : defaults?.bySeries[seriesId]) ?? {};
  });

  constructor() {
    this.request.run(this.api.call(readHouseDefaults), (defaults) => this.defaults.set(defaults));
    this.request.run(this.api.call(readHouseRules), ({ rules }) =>
      this.rules.set(rules.map((one) => one.rules)),
    );
  }

  protected valueOf(id: SettingId): SettingValue {
    return this.values()[id] ?? null;
  }

  protected written(id: SettingId): string {
    return writeSetting(this.valueOf(id));
  }

  protected option(text: string): string {
    return text.replaceAll('_', ' ');
  }

  protected set(id: SettingId, text: string): void {
    this.save({ settings: { [id]: readSetting(id, text) } });
  }

  protected setDesk(text: string): void {
    const minutes = Math.round(Number(text));
    if (Number.isFinite(minutes)) this.save({ settings: {}, atDeskMinutes: minutes });
  }

  private save(change: { settings: Partial<Record<SettingId, SettingValue>>; atDeskMinutes?: number }): void {
    this.saved.set(false);
    const body = { seriesId: 'atDeskMinutes' in change ? null : this.seriesId(), ...change };
    this.request.run(this.api.call(saveHouseDefaults, { body }), (defaults) => {
      this.defaults.set(defaults);
      this.saved.set(true);
    });
  }
}
