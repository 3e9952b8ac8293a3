import { resolveStart, type StartProblem } from '@juncta/core/schedule';
import type { FieldError } from '@juncta/contract/errors';
import type { Member } from '@juncta/contract/team';
import type { ShowText } from '@juncta/contract/shows';
import { badInput } from '../http/errors';

/**
 * What a show's text must hold beyond its form: a start that exists, people who exist and stand in it once, a
 * series there is. Returns the instant of the start, null while none is set; throws with every wrong field.
 *
 * @param before the text as it was saved: a member who has been removed since may stay in an old show.
 */
export function checkShowText(
  text: ShowText,
  known: { members: readonly Member[]; series: { id: string } | undefined; before: ShowText | null },
): number | null {
  const fields: FieldError[] = [];
  let startsAtMs: number | null = null;
  if (text.start) {
    const resolved = resolveStart(text.start);
    if (resolved.ok) startsAtMs = resolved.atMs;
    else fields.push(startError(resolved.problem, text.start.zone));
  }
  if (text.seriesId && !known.series) {
    fields.push({ field: 'text.seriesId', code: 'unknown', sentence: 'This series does not exist.' });
  }
  fields.push(...peopleErrors(text, known));
  if (fields.length > 0) throw badInput(fields);
  return startsAtMs;
}

function peopleErrors(
  text: ShowText,
  known: { members: readonly Member[]; before: ShowText | null },
): FieldError[] {
  const errors: FieldError[] = [];
  const ids = new Set<string>();
  const allowed = new Set([
    ...known.members.map((member) => member.id),
    ...(known.before?.people ?? []).map((person) => person.memberId),
  ]);
  text.people.forEach((person, i) => {
    const wrong = (field: string, code: string, sentence: string) =>
      errors.push({ field: `text.people.${i}.${field}`, code, sentence });
    if (ids.has(person.id)) wrong('id', 'twice', `${person.name} stands in the list twice.`);
    ids.add(person.id);
    if (person.memberId && !allowed.has(person.memberId)) {
      wrong('memberId', 'unknown', `${person.name} is not in the team.`);
    }
    if (person.part === 'guest' && person.memberId) {
      wrong('part', 'not_one_of', `${person.name} is in the team and cannot be a guest.`);
    }
    if (person.part !== 'guest' && !person.memberId) {
      wrong('memberId', 'missing', `${person.name} is not in the team and can only be a guest.`);
    }
  });
  return errors;
}

function startError(problem: StartProblem, zone: string): FieldError {
  const inLocal = (sentence: string): FieldError => ({
    field: 'text.start.local',
    code: problem.code,
    sentence,
  });
  switch (problem.code) {
    case 'bad_form':
      return inLocal('The start must have a day and a time, as in 2026-11-26T19:00.');
    case 'no_such_day':
      return inLocal('There is no such day in the calendar. Choose another.');
    case 'no_such_time':
      return inLocal('There is no such time of day. Times run from 00:00 to 23:59.');
    case 'year_out_of_range':
      return inLocal('The year must be from 2000 to 2199.');
    case 'skipped':
      return inLocal(
        `Clocks in ${zone} skip this time. The nearest are ${clockTime(problem.before)} and ${clockTime(problem.after)}.`,
      );
    case 'unknown_zone':
      return {
        field: 'text.start.zone',
        code: problem.code,
        sentence: 'There is no such time zone. Choose one from the list, such as Europe/Lisbon.',
      };
  }
}

const clockTime = (local: string): string => local.slice(11);
