import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  signal,
} from '@angular/core';
import type { Listing } from '@juncta/contract/listings';
import {
  countText,
  embedCode,
  fillIn,
  overLength,
  PLACEHOLDERS,
  lostSettings,
  SETTING_KINDS,
  settingOf,
  type PlaceSetting,
  type SettingId,
  type SettingValue,
} from '@juncta/core/listings';
import { destinationTexts } from '../../destinations/destinations.texts';
import { ArmedKey } from '../../look/keys/armed-key';
import { CopyKey } from '../../look/keys/copy-key';
import { Key } from '../../look/keys/key';
import { AdoptEvent } from './adopt-event';
import { PictureField } from './picture-field';
import type { ListingEntry } from '../../readiness/broadcast-of';
import { listingTexts, originTexts, placeholderTexts, settingTexts } from '../listings.texts';
import { readSetting, writeSetting } from '../settings/setting-text';
import { ShowListings } from '../show-listings';

type Field = 'title' | 'description';

/** One listing: its texts, its slot and its settings; each saved when it is left, apart from the others'. */
@Component({
  selector: 'jn-listing-editor',
  imports: [AdoptEvent, ArmedKey, CopyKey, Key, PictureField],
  templateUrl: './listing-editor.html',
  styleUrl: './listing-editor.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ListingEditor {
  protected readonly state = inject(ShowListings);
  protected readonly texts = listingTexts;
  protected readonly settingTexts = settingTexts;
  protected readonly origins = originTexts;
  protected readonly placeholders = PLACEHOLDERS.map((name) => ({ name, does: placeholderTexts[name] }));
  protected readonly fields: readonly Field[] = ['title', 'description'];

  readonly row = input.required<ListingEntry>();
  readonly readOnly = input.required<boolean>();
  /** What is being typed, for counting; null while nothing is. */
  protected readonly typed = signal<{ of: string; field: Field; text: string } | null>(null);

  protected readonly destination = computed(() => this.row().destination);
  protected readonly keepCrop = (crop: Listing['crop']) => this.state.save(this.destination().id, { crop });
  protected readonly embedCode = computed(() => {
    const { embedUrl } = this.row().listing;
    return embedUrl === null ? null : embedCode(embedUrl, this.destination().name);
  });
  protected readonly working = computed(() => this.state.working().includes(this.destination().id));
  protected readonly settings = computed(() => {
    const { destination, listing } = this.row();
    const inherited = this.state.inherited();
    return destination.rules.capabilities.settings.map((setting) => ({
      setting,
      kind: SETTING_KINDS[setting.id],
      inherited: settingOf(setting, {}, inherited),
      ...settingOf(setting, listing.settings, inherited),
    }));
  });
  /** What all listings share, or the house wants, and this place does not have. */
  protected readonly lost = computed(() => {
    const { rules } = this.destination();
    const names = lostSettings(rules.capabilities.settings, this.state.inherited()).map(
      (id) => settingTexts[id].name,
    );
    return names.length === 0 ? null : listingTexts.lost(rules.place, names.join(', '));
  });
  protected readonly slotKind = computed(() => this.row().listing.slot.kind);
  protected readonly offset = computed(() => {
    const { slot } = this.row().listing;
    return slot.kind === 'offset' ? slot.minutes : 0;
  });
  protected readonly fixedAt = computed(() => {
    const { slot } = this.row().listing;
    const atMs = slot.kind === 'fixed' ? slot.atMs : (this.state.show()?.startsAtMs ?? null);
    if (atMs === null) return '';
    // As a field for local times wants it.
    return new Date(atMs - new Date(atMs).getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
  });

  /** Puts the keyboard into a field or a setting. */
  focus(field: string): void {
    const settings = this.host.querySelector('details');
    if (settings && field in settingTexts) settings.open = true;
    this.host
      .querySelector<HTMLElement>(`#${field}-there, #set-${field}, #${field}-kind, #${field}-there-file`)
      ?.focus();
  }
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected ruleOf(field: Field) {
    return this.destination().rules.capabilities[field];
  }

  /** As it will read once saved: what is typed, filled in. */
  protected reads(field: Field): string {
    const typed = this.typed();
    const { presented, destination } = this.row();
    if (typed?.of !== destination.id || typed.field !== field || typed.text === '') return presented[field];
    return fillIn(typed.text, presented.values).text;
  }

  protected countOf(field: Field): string {
    const rule = this.ruleOf(field)!;
    const unit = destinationTexts.units[rule.unit];
    return listingTexts.characters(countText(this.reads(field), rule.unit), rule.max, unit);
  }

  protected overOf(field: Field): number {
    return overLength(this.reads(field), this.ruleOf(field));
  }

  protected type(field: Field, text: string): void {
    this.typed.set({ of: this.destination().id, field, text });
  }

  protected async save(field: Field, text: string): Promise<void> {
    // A title is one line, however many it takes here.
    const written = field === 'title' ? text.replace(/\s*\n\s*/g, ' ') : text;
    const value = written.trim() || null;
    if (value !== this.row().listing[field]) await this.state.save(this.destination().id, { [field]: value });
    this.typed.set(null);
  }

  protected saveSlot(kind: string): void {
    const startsAtMs = this.state.show()?.startsAtMs ?? 0;
    const slot =
      kind === 'offset'
        ? { kind: 'offset' as const, minutes: this.offset() }
        : kind === 'fixed'
          ? { kind: 'fixed' as const, atMs: startsAtMs }
          : { kind: 'with_show' as const };
    void this.state.save(this.destination().id, { slot });
  }

  protected saveOffset(text: string): void {
    const minutes = Math.round(Number(text));
    if (Number.isFinite(minutes))
      void this.state.save(this.destination().id, { slot: { kind: 'offset', minutes } });
  }

  protected saveFixed(text: string): void {
    const atMs = new Date(text).getTime();
    if (Number.isFinite(atMs)) void this.state.save(this.destination().id, { slot: { kind: 'fixed', atMs } });
  }

  /** An empty text goes back to what is inherited. */
  protected set(setting: PlaceSetting, text: string): void {
    const settings = { [setting.id]: readSetting(setting.id, text) };
    void this.state.save(this.destination().id, { settings });
  }

  /** What stands in the field of a setting: its own value only. */
  protected ownOf(id: SettingId): string {
    return writeSetting(this.row().listing.settings[id] ?? null);
  }

  protected said(value: SettingValue): string {
    if (value === true) return listingTexts.on;
    if (value === false) return listingTexts.off;
    return writeSetting(value) || listingTexts.empty;
  }

  protected option(text: string): string {
    return text.replaceAll('_', ' ');
  }
}
