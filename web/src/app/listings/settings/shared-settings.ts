import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { SETTING_KINDS, SHARED_SETTING_IDS, type SettingId } from '@juncta/core/listings';
import { settingTexts, sharedTexts } from '../listings.texts';
import { readSetting, writeSetting } from './setting-text';
import { ShowListings } from '../show-listings';

/** What all listings of a show share besides its texts: laid down once, wherever a place has it. */
@Component({
  selector: 'jn-shared-settings',
  templateUrl: './shared-settings.html',
  styleUrl: './shared-settings.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SharedSettings {
  protected readonly state = inject(ShowListings);
  protected readonly texts = sharedTexts;
  protected readonly names = settingTexts;

  readonly readOnly = input.required<boolean>();

  /** Those that a place of this show has. */
  protected readonly fields = computed(() => {
    const show = this.state.show();
    const inherited = this.state.inherited().filter(({ origin }) => origin === 'house');
    return SHARED_SETTING_IDS.flatMap((id) => {
      const having = this.state.rows().flatMap(({ destination: { rules } }) => {
        const setting = rules.capabilities.settings.find((one) => one.id === id);
        return setting ? [{ place: rules.place, setting }] : [];
      });
      if (!show || having.length === 0) return [];
      const places = new Set(having.map(({ place }) => place));
      const lacking = new Set(this.state.rows().map(({ destination: { rules } }) => rules.place));
      for (const place of places) lacking.delete(place);
      const house = inherited.map(({ values }) => values[id]).find((value) => value != null);
      return [
        {
          id,
          isChoice: SETTING_KINDS[id] === 'choice',
          written: writeSetting(show.shared[id] ?? null),
          house: house == null ? this.texts.asPlace : this.texts.houseHas(writeSetting(house)),
          options: [...new Set(having.flatMap(({ setting }) => setting.options))],
          places:
            lacking.size === 0
              ? [...places].join(', ')
              : sharedTexts.notAt([...places].join(', '), [...lacking].join(', ')),
        },
      ];
    });
  });

  protected option(text: string): string {
    return text.replaceAll('_', ' ');
  }

  protected set(id: SettingId, text: string): void {
    void this.state.share({ [id]: readSetting(id, text) });
  }
}
