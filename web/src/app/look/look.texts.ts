import type { FeedState } from '@juncta/core/feeds';

/** Texts of this part, marked for Angular's own translation. */
export const feedStateNames: Record<FeedState, string> = {
  off: $localize`:@@feed.off:Off`,
  dialling: $localize`:@@feed.dialling:Dialling`,
  held: $localize`:@@feed.held:Held`,
  sending: $localize`:@@feed.sending:Sending`,
  on_air: $localize`:@@feed.onAir:On air`,
  recovering: $localize`:@@feed.recovering:Recovering`,
  ended: $localize`:@@feed.ended:Ended`,
  failed: $localize`:@@feed.failed:Failed`,
};

export const lookTexts = {
  unsaved: $localize`:@@look.unsaved:This is not saved yet. Save it, or do that once more to drop it.`,
};
