import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { LAYOUTS, placedIn, slotKindOf, type Layout } from '@juncta/core/stage';
import { Key } from '../../look/keys/key';
import { LAYOUT_KEYS, NAMES_KEY, OWN_LAYOUT_KEY } from '../desk-keys';
import { OpenPanel } from '../open-panel';
import { OwnLayouts } from '../own-layouts/own-layouts';
import { ownLayoutTexts } from '../own-layouts/own-layouts.texts';
import { StageLink } from '../stage-link';
import { layoutNames, layoutWords, stageTexts } from '../stage.texts';

/** Of no use while no screen is there. */
const FOR_SCREENS: readonly Layout[] = ['column', 'inset', 'screens'];

/** How what is armed, or else the programme, is laid out. */
@Component({
  selector: 'jn-layout-keys',
  imports: [Key],
  template: `
    @for (one of layouts(); track one.layout) {
      <button
        jnKey
        type="button"
        [lamp]="one.isOn ? 'lit' : 'dark'"
        [shortcut]="one.key"
        [attr.aria-pressed]="one.isOn"
        [title]="one.text"
        (click)="stage.setLayout(one.layout)"
      >
        {{ one.name }}
      </button>
    }
    @for (one of own(); track one.id) {
      <button
        jnKey
        type="button"
        [lamp]="one.id === stage.scene().own?.id ? 'lit' : 'dark'"
        [attr.aria-pressed]="one.id === stage.scene().own?.id"
        (click)="stage.change({ type: 'own_layout', own: one })"
      >
        {{ one.name }}
      </button>
    }
    <button
      jnKey
      type="button"
      [shortcut]="ownKey"
      [title]="ownTexts.keyText"
      [attr.aria-expanded]="isMaking()"
      (click)="panel.content.set(isMaking() ? null : { of: 'layout' })"
    >
      {{ ownTexts.key }}
    </button>
    <button
      jnKey
      type="button"
      [lamp]="stage.scene().names ? 'lit' : 'dark'"
      [shortcut]="namesKey"
      [attr.aria-pressed]="stage.scene().names"
      (click)="stage.setNames(!stage.scene().names)"
    >
      {{ texts.names }}
    </button>
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1);
    }
    :host {
      --key-height: 2rem;
      --key-padding: 0.35rem;
      --key-gap: 0.35rem;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'group', '[attr.aria-label]': 'texts.layout' },
})
export class LayoutKeys {
  protected readonly stage = inject(StageLink);
  protected readonly texts = stageTexts;
  protected readonly namesKey = NAMES_KEY.toUpperCase();
  protected readonly ownKey = OWN_LAYOUT_KEY.toUpperCase();
  protected readonly ownTexts = ownLayoutTexts;
  protected readonly panel = inject(OpenPanel);
  protected readonly isMaking = computed(() => this.panel.content()?.of === 'layout');
  private readonly ownLayouts = inject(OwnLayouts);
  /** Null: the show belongs to none. */
  readonly seriesId = input.required<string | null>();
  protected readonly own = computed(() => this.ownLayouts.of(this.seriesId()).map(({ layout }) => layout));
  protected readonly layouts = computed(() => {
    const scene = this.stage.scene();
    const known = [...placedIn(scene), ...this.stage.stage().sources.map(({ source }) => source)];
    const hasScreens = known.some((source) => slotKindOf(source) === 'screen');
    return LAYOUTS.filter(
      (layout) => hasScreens || layout === scene.layout || !FOR_SCREENS.includes(layout),
    ).map((layout) => ({
      layout,
      name: layoutNames[layout],
      text: layoutWords[layout] ?? '',
      key: LAYOUT_KEYS[layout].toUpperCase(),
      isOn: layout === scene.layout && !scene.own,
    }));
  });

  constructor() {
    void this.ownLayouts.follow();
  }
}
