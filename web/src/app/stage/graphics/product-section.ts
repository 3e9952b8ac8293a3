import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { PRICE_MAX, PRODUCT_NAME_MAX, readAddress, type ProductCard } from '@juncta/core/stage';
import { Notice } from '../../look/notice';
import { StageLink } from '../stage-link';
import { GraphicHead } from './graphic-head';
import { graphicsTexts } from './graphics.texts';

/** What can be bought, as viewers see it: its name, what it costs, and where. */
@Component({
  selector: 'jn-product-section',
  imports: [GraphicHead, Notice],
  template: `
    <jn-graphic-head
      headingId="graphics-product"
      [name]="texts.product"
      [isOn]="product().isOn"
      (turned)="show($event, name.value, address.value)"
    />
    <label>
      {{ texts.productName }}
      <input
        #name
        class="input"
        autocomplete="off"
        [maxLength]="nameMax"
        [value]="product().name"
        (change)="set({ name: name.value.trim() })"
      />
    </label>
    <label>
      {{ texts.price }}
      <input
        #price
        class="input"
        autocomplete="off"
        [maxLength]="priceMax"
        [value]="product().price"
        (change)="set({ price: price.value.trim() })"
      />
    </label>
    <label>
      {{ texts.productAddress }}
      <input
        #address
        class="input"
        inputmode="url"
        autocomplete="off"
        [value]="product().address"
        [attr.aria-invalid]="problem() === texts.notAnAddress"
        [attr.aria-describedby]="problem() ? 'product-problem' : null"
        (change)="setAddress(address.value)"
      />
    </label>
    @if (problem(); as problem) {
      <jn-notice kind="wrong" id="product-problem">{{ problem }}</jn-notice>
    }
  `,
  styleUrl: './graphics-section.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProductSection {
  private readonly stage = inject(StageLink);
  protected readonly texts = graphicsTexts;
  protected readonly nameMax = PRODUCT_NAME_MAX;
  protected readonly priceMax = PRICE_MAX;
  protected readonly product = computed(() => this.stage.stage().graphics.product);
  protected readonly problem = signal<string | null>(null);

  protected set(values: Partial<ProductCard>): void {
    this.stage.do({ type: 'graphics', change: { type: 'product', values } });
  }

  /** What is none stays in its field to be mended. */
  protected setAddress(written: string): boolean {
    const address = written.trim() === '' ? '' : readAddress(written);
    this.problem.set(address === null ? this.texts.notAnAddress : null);
    if (address !== null) this.set({ address });
    return address !== null;
  }

  protected show(isOn: boolean, name: string, address: string): void {
    if (!isOn) this.set({ isOn });
    else if (name.trim() === '') this.problem.set(this.texts.noName);
    else if (this.setAddress(address)) this.set({ isOn, name: name.trim() });
  }
}
