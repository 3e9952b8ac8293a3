import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { NOTICE_STAYS_S, THANKS_MAX, type Notices } from '@juncta/core/stage';
import { StageLink } from '../stage-link';
import { GraphicHead } from './graphic-head';
import { graphicsTexts } from './graphics.texts';

/** What places tell of followers and sales, said on the picture as it comes. */
@Component({
  selector: 'jn-notices-section',
  imports: [GraphicHead],
  template: `
    <jn-graphic-head
      headingId="graphics-notices"
      [name]="texts.noticesOf"
      [isOn]="notices().isOn"
      (turned)="set({ isOn: $event })"
    />
    <p class="soft">{{ texts.noticesText }}</p>
    <label>
      {{ texts.thanks }}
      <input
        #thanks
        class="input"
        autocomplete="off"
        [maxLength]="thanksMax"
        [placeholder]="texts.thanksNone"
        [value]="notices().thanks"
        (change)="set({ thanks: thanks.value.trim() })"
      />
    </label>
    <label>
      {{ texts.noticeStays }}
      <select #stays class="input" (change)="set({ staysS: lengths[stays.selectedIndex]! })">
        @for (one of lengths; track one) {
          <option [selected]="one === notices().staysS">{{ texts.seconds(one) }}</option>
        }
      </select>
    </label>
  `,
  styleUrl: './graphics-section.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoticesSection {
  private readonly stage = inject(StageLink);
  protected readonly texts = graphicsTexts;
  protected readonly thanksMax = THANKS_MAX;
  protected readonly lengths = NOTICE_STAYS_S;
  protected readonly notices = computed(() => this.stage.stage().graphics.notices);

  protected set(values: Partial<Notices>): void {
    this.stage.do({ type: 'graphics', change: { type: 'notices', values } });
  }
}
