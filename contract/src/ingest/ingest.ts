import { ON_ARRIVAL, SECOND_SENDERS, TRANSPORTS } from '@juncta/core/ingest';
import * as z from 'zod/mini';
import { endpoint, Id, line, Nothing, right } from '../http';
import { ProgrammeReport } from '../relay';

/** Outside pictures of a show: each comes to an address of its own, with a key. */
export const INPUT_NAME_MAX = 60;

export const Input = z.object({
  id: Id,
  name: z.string(),
  transport: z.enum(TRANSPORTS),
  /**
   * Where an encoder sends to, without the key: `rtmp://host:port/in/<id>`, `srt://host:port`. Of one that is called: where it
   * listens.
   */
  address: z.string(),
  /** The same, encrypted; null: this house has no certificate, or it is SRT, which is encrypted by its passphrase. */
  secureAddress: z.nullable(z.string()),
  /**
   * What an encoder calls the stream key, or with SRT the passphrase. Of one that is called: its stream id and passphrase, as
   * the address's query has them, empty where it wants neither. Known to those who may run the show, and to nobody else.
   */
  key: z.string(),
  second: z.enum(SECOND_SENDERS),
  onArrival: z.enum(ON_ARRIVAL),
  /** It stays with the team after this show, and is booked to another one under the same address and key. */
  isStanding: z.boolean(),
});
export type Input = z.infer<typeof Input>;

/** What a team makes of an input. */
export const InputSettings = z.object({
  name: line(INPUT_NAME_MAX),
  transport: z._default(z.enum(TRANSPORTS), 'rtmp'),
  second: z.enum(SECOND_SENDERS),
  onArrival: z.enum(ON_ARRIVAL),
  isStanding: z._default(z.boolean(), false),
  /** Where an encoder that is called listens, and its stream id and passphrase, apart or in one. Left out: as it was. */
  called: z.optional(z.object({ address: line(500), key: z.string().check(z.maxLength(1000)) })),
});
export type InputSettings = z.infer<typeof InputSettings>;

const params = z.object({ showId: Id });
const inputParams = z.object({ showId: Id, inputId: Id });
/** An input of the team's that is not booked to the show that is looked at. */
export const StandingInput = z.object({
  id: Id,
  name: z.string(),
  transport: z.enum(TRANSPORTS),
  /** The show to which it is booked; null: to none. */
  bookedTo: z.nullable(z.object({ showId: Id, title: z.string() })),
});
export type StandingInput = z.infer<typeof StandingInput>;

const Inputs = z.object({
  /** In the order in which they were made. */
  inputs: z.array(Input),
  /** The team's own that are booked to another show, or to none. */
  standing: z.array(StandingInput),
  /** Whether SRT comes to this house. */
  hasSrt: z.boolean(),
  /** Whether made-up encoders can be switched on: in the demo. */
  hasStandIns: z.boolean(),
});

export const readInputs = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/inputs',
  access: right('show.run'),
  params,
  body: Nothing,
  response: Inputs,
});

/** Makes an input with a key of its own, or changes one; at most `MOST_INPUTS` in a show. Safe to repeat. */
export const putInput = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/inputs/:inputId',
  access: right('show.run'),
  params: inputParams,
  body: InputSettings,
  response: Inputs,
});

export const removeInput = endpoint({
  method: 'DELETE',
  path: '/api/shows/:showId/inputs/:inputId',
  access: right('show.run'),
  params: inputParams,
  body: Nothing,
  response: Inputs,
});

/** A standing input comes to this show, from whichever had it; or is booked to none. Safe to repeat. */
export const bookInput = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/inputs/:inputId/booking',
  access: right('show.run'),
  params: inputParams,
  body: z.object({ isBooked: z.boolean() }),
  response: Inputs,
});

/** Another key from now on; whoever sends with the old one is cut off. */
export const renewInputKey = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/inputs/:inputId/key',
  access: right('show.run'),
  params: inputParams,
  body: Nothing,
  response: Inputs,
});

/** To look at what comes in, moving and with its sound, before anybody gets it. Asked for again every minute. */
export const watchInputs = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/inputs-watched',
  access: right('desk.open'),
  params,
  /** Of whoever looks: one tab of one browser. */
  body: z.object({ watcherId: Id }),
  response: z.object({ ticket: z.string(), uplinkUrl: z.string() }),
});

/** An outside picture becomes the programme at its next keyframe; null: the desk makes it again. */
export const takeInput = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/programme-input',
  access: right('show.run'),
  params,
  body: z.object({ inputId: z.nullable(Id) }),
  response: ProgrammeReport,
});

/** A test pattern with a tone, or three people in one plain picture. */
export const STAND_IN_KINDS = ['encoder', 'meeting'] as const;
export type StandInKind = (typeof STAND_IN_KINDS)[number];

/** In the demo: a made-up encoder sends to this input over the network; null: it stops. */
export const runStandInEncoder = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/inputs/:inputId/stand-in',
  access: right('show.run'),
  params: inputParams,
  body: z.object({ kind: z.nullable(z.enum(STAND_IN_KINDS)) }),
  response: Nothing,
});

/** `GET`: the last picture of an input that is here, JPEG. */
export const stillPath = (showId: string, inputId: string) => `/api/shows/${showId}/inputs/${inputId}/still`;
