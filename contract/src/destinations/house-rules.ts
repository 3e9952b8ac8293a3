import { CORRECTABLES } from '@juncta/core/destinations';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, line, Nothing, right } from '../http';
import { HouseRules } from './capabilities';
import { DESTINATION_KINDS } from './destinations';

/** One figure of a place's rules that was corrected. */
export const RuleCorrection = z.object({
  kind: z.enum(DESTINATION_KINDS),
  rule: z.enum(CORRECTABLES),
  was: z.int(),
  is: z.int(),
  /** `YYYY-MM-DD`. */
  since: z.iso.date(),
  source: z.string(),
  /** Null: that member has been removed. */
  by: z.nullable(z.string()),
});
export type RuleCorrection = z.infer<typeof RuleCorrection>;

/** A place refused what our rules allow: they have changed over there. */
export const RuleAlarm = z.object({
  id: Id,
  kind: z.enum(DESTINATION_KINDS),
  place: z.string(),
  rule: z.enum(CORRECTABLES),
  ours: z.int(),
  /** What the place said the limit is. */
  theirs: z.int(),
  atMs: InstantMs,
});
export type RuleAlarm = z.infer<typeof RuleAlarm>;

const view = z.object({
  rules: z.array(z.object({ kind: z.enum(DESTINATION_KINDS), rules: HouseRules })),
  corrections: z.array(RuleCorrection),
  alarms: z.array(RuleAlarm),
});

export const readHouseRules = endpoint({
  method: 'GET',
  path: '/api/house-rules',
  access: right('destinations.read'),
  params: Nothing,
  body: Nothing,
  response: view,
});

/** Corrects one figure, from today on. */
export const correctHouseRule = endpoint({
  method: 'PUT',
  path: '/api/house-rules',
  access: right('destinations.manage'),
  params: Nothing,
  body: z.object({
    kind: z.enum(DESTINATION_KINDS),
    rule: z.enum(CORRECTABLES),
    figure: z.int(),
    /** Where the team has it from. */
    source: line(300),
  }),
  response: view,
});

/** Puts an alarm away without correcting anything: the place was wrong, or it was a slip. */
export const dismissAlarm = endpoint({
  method: 'DELETE',
  path: '/api/house-rules/alarms/:alarmId',
  access: right('destinations.manage'),
  params: z.object({ alarmId: Id }),
  body: Nothing,
  response: view,
});
