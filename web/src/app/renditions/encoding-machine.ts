import { inject, Injectable, signal } from '@angular/core';
import { readEncodingMachine } from '@juncta/contract/renditions';
import type { EncodingMachine } from '@juncta/core/renditions';
import { catchError, EMPTY } from 'rxjs';
import { Api } from '../api/api';

/** What may be encoded where the relay runs, beside what it encodes of outside pictures. Asked for whenever a page counts with it. */
@Injectable({ providedIn: 'root' })
export class EncodingMachineHere {
  private readonly api = inject(Api);
  private readonly known = signal<EncodingMachine | null>(null);
  private asking = false;

  /** Null: not known yet, so nothing is counted on. */
  readonly machine = this.known.asReadonly();

  /** For pages that count with it, when they open. */
  ask(): void {
    if (this.asking) return;
    this.asking = true;
    this.api
      .call(readEncodingMachine)
      .pipe(catchError(() => EMPTY))
      .subscribe({
        next: ({ machine }) => this.known.set(machine),
        complete: () => (this.asking = false),
      });
  }
}
