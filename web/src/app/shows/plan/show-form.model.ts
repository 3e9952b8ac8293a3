import { FormControl, FormGroup, Validators } from '@angular/forms';
import { DESCRIPTION_MAX, TITLE_MAX } from '@juncta/core/shows';
import { isZone, resolveStart, type Fold, type StartResult } from '@juncta/core/schedule';
import type { ShowPerson, ShowText, Start } from '@juncta/contract/shows';

/** The form of a show's text, and the way between the two. */
export function makeShowForm() {
  const text = (max: number) => [Validators.required, Validators.pattern(/\S/), Validators.maxLength(max)];
  return new FormGroup({
    title: new FormControl('', { nonNullable: true, validators: text(TITLE_MAX) }),
    seriesId: new FormControl<string | null>(null),
    day: new FormControl('', { nonNullable: true }),
    time: new FormControl('', { nonNullable: true }),
    zone: new FormControl('', { nonNullable: true }),
    fold: new FormControl<Fold>('earlier', { nonNullable: true }),
    plannedMinutes: new FormControl(60, {
      nonNullable: true,
      validators: [Validators.required, Validators.min(5), Validators.max(1500), Validators.pattern(/^\d+$/)],
    }),
    description: new FormControl('', {
      nonNullable: true,
      validators: [Validators.maxLength(DESCRIPTION_MAX)],
    }),
    people: new FormControl<readonly ShowPerson[]>([], { nonNullable: true }),
  });
}
export type ShowFormGroup = ReturnType<typeof makeShowForm>;

/** @param ownZone what an undated show starts with once a day is entered */
export function fillShowForm(form: ShowFormGroup, text: ShowText, ownZone: string): void {
  const [day = '', time = ''] = text.start?.local.split('T') ?? [];
  const value = {
    title: text.title,
    seriesId: text.seriesId,
    day,
    time,
    zone: text.start?.zone ?? ownZone,
    fold: text.start?.fold ?? 'earlier',
    plannedMinutes: text.plannedMinutes,
    description: text.description,
    people: text.people,
  };
  // Silent: what is put in is not something that somebody wrote.
  form.setValue(value, { emitEvent: false });
}

/** What the form holds, as it would be saved. A start with neither day nor time is none. */
export function readShowForm(form: ShowFormGroup): ShowText {
  const value = form.getRawValue();
  return {
    title: value.title,
    description: value.description,
    seriesId: value.seriesId,
    start: startOf(value),
    plannedMinutes: value.plannedMinutes,
    people: [...value.people],
  };
}

function startOf({
  day,
  time,
  zone,
  fold,
}: {
  day: string;
  time: string;
  zone: string;
  fold: Fold;
}): Start | null {
  if (day === '' && time === '') return null;
  const start = { local: `${day}T${time}`, zone: zone.trim(), fold };
  // Where the time is not doubled the choice has no meaning, and must not make two saves differ.
  const resolved = resolveStart(start);
  return resolved.ok && !resolved.twice ? { ...start, fold: 'earlier' } : start;
}

/** The start that stands in the form, resolved; null while there is none. */
export function resolvedStart(text: ShowText): StartResult | null {
  return text.start ? resolveStart(text.start) : null;
}

/** Zones that fit what was typed, by any part of their name; the ones that begin with it first. */
export function findZones(typed: string, zones: readonly string[], most = 12): string[] {
  const wanted = typed.trim().toLowerCase().replaceAll(' ', '_');
  if (wanted === '') return [];
  const rank = (zone: string) => {
    const name = zone.toLowerCase();
    if (name === wanted) return 0;
    if ((name.split('/').at(-1) ?? '').startsWith(wanted)) return 1;
    return name.startsWith(wanted) ? 2 : name.includes(wanted) ? 3 : 9;
  };
  return zones
    .map((zone) => ({ zone, rank: rank(zone) }))
    .filter((found) => found.rank < 9)
    .sort((a, b) => a.rank - b.rank || a.zone.localeCompare(b.zone))
    .slice(0, most)
    .map(({ zone }) => zone);
}

/** All zones this browser knows, UTC among them. */
export const ALL_ZONES: readonly string[] = [
  ...new Set(['UTC', ...Intl.supportedValuesOf('timeZone')]),
].filter(isZone);
