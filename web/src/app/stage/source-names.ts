import { inject, Injectable } from '@angular/core';
import type { ShowPerson } from '@juncta/contract/shows';
import { ShowInputs } from '../ingest/show-inputs';

/** What those are called who own sources: people of a show, and its outside pictures. */
@Injectable({ providedIn: 'root' })
export class SourceNames {
  private readonly inputs = inject(ShowInputs).inputs;

  /** Names by the owners of sources. */
  of(people: readonly ShowPerson[]): ReadonlyMap<string, string> {
    return new Map([...people, ...(this.inputs() ?? [])].map(({ id, name }) => [id, name]));
  }
}
