import { Injectable, signal } from '@angular/core';
import type { SourceId } from '@juncta/core/stage';

/** One at a time: how a source is shown and heard, what stands over the programme, or a layout that is being made. */
export type PanelContent =
  | { readonly of: 'source'; readonly source: SourceId }
  | { readonly of: 'graphics' }
  | { readonly of: 'layout' };

/** What is open at this desk beside the picture, over the messages. */
@Injectable({ providedIn: 'root' })
export class OpenPanel {
  /** Null: nothing is. */
  readonly content = signal<PanelContent | null>(null);
}
