import { Injectable, signal } from '@angular/core';
import type { SourceId } from '@juncta/core/stage';

/** Which source is adjusted at this desk. */
@Injectable({ providedIn: 'root' })
export class Adjusting {
  /** Null: none is. */
  readonly source = signal<SourceId | null>(null);
}
