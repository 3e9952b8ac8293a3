import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Key } from '../look/keys/key';
import { ComposingDesk } from '../stage/composing-desk';
import { uploadTexts } from './uplink.texts';

/** Above this nobody needs to know more. */
const MOST_TOLD_MBPS = 100;

/** What the line from this desk to the relay carries, and what is therefore sent. */
@Component({
  selector: 'jn-upload-check',
  imports: [Key],
  template: `
    <div class="line">
      <p class="soft" role="status" [class.warn]="desk.advice().uplink === 'short'">{{ sentence() }}</p>
      <button
        jnKey
        type="button"
        [lamp]="checking() ? 'working' : 'dark'"
        [disabled]="checking()"
        (click)="check()"
      >
        {{ texts.check }}
      </button>
    </div>
  `,
  styles: `
    p {
      margin: 0;
    }
    .line {
      display: grid;
      gap: var(--space-2);
      justify-items: start;
    }
    .warn {
      color: var(--saffron-text);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class UploadCheck {
  protected readonly desk = inject(ComposingDesk);
  protected readonly texts = uploadTexts;
  protected readonly checking = signal(false);
  private readonly failed = signal(false);

  protected readonly sentence = computed(() => {
    if (this.checking()) return uploadTexts.checking;
    if (this.failed()) return uploadTexts.failed;
    const { videoKbps, limitedBy, uplink } = this.desk.advice();
    const measured = this.desk.measuredKbps();
    const line = measured === null ? uploadTexts.unchecked : uploadTexts.carries(told(measured));
    const now = this.desk.uplink();
    if (now && now.videoKbps < now.ceilingKbps) {
      const sent = uploadTexts.sentNow(now.videoKbps, now.ceilingKbps);
      // Whoever has just asked is told what was measured, also while less is sent.
      return measured === null ? sent : `${uploadTexts.carried(told(measured))} ${sent}`;
    }
    const { width, height } = this.desk.picture();
    if (uplink === 'short') return `${line} ${uploadTexts.short(`${width}x${height}`)}`;
    if (limitedBy === null) return `${line} ${uploadTexts.sent(videoKbps)}`;
    const why = limitedBy === 'uplink' ? uploadTexts.byLine : uploadTexts.byPlace(limitedBy.destination);
    return `${line} ${uploadTexts.sent(videoKbps)} ${why}`;
  });

  protected async check(): Promise<void> {
    this.checking.set(true);
    this.failed.set(false);
    try {
      await this.desk.checkUpload();
    } catch {
      this.failed.set(true);
    } finally {
      this.checking.set(false);
    }
  }
}

function told(kbps: number): string {
  const mbps = kbps / 1000;
  return mbps > MOST_TOLD_MBPS ? uploadTexts.over(MOST_TOLD_MBPS) : uploadTexts.mbps(mbps.toFixed(1));
}
