export const STANDINGS = ['shown', 'aside', 'hidden'] as const;
export type Standing = (typeof STANDINGS)[number];

export const QUESTION_STATES = ['none', 'lined_up', 'answered'] as const;
export type QuestionState = (typeof QUESTION_STATES)[number];

/** `private`: to the house alone; `follow` and `sale`: what the place tells of a viewer, in its words. */
export const MESSAGE_KINDS = ['message', 'private', 'follow', 'sale'] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

/** Whether a person wrote it, and not the place about one. */
export const isWritten = (kind: MessageKind): boolean => kind === 'message' || kind === 'private';

/** What only the host has to know of: told, and seen by whoever is host. */
export const FOR_HOST_STATES = ['none', 'told', 'seen'] as const;
export type ForHostState = (typeof FOR_HOST_STATES)[number];

/** `open`: nobody has said yet what it is; `aside`: all of it is set aside; `let_be`: somebody said that it is none. */
export const FLOOD_ANSWERS = ['open', 'aside', 'let_be'] as const;
export type FloodAnswer = (typeof FLOOD_ANSWERS)[number];

export const CHAT_LINE_STATES = ['closed', 'connecting', 'open', 'lost', 'refused'] as const;
export type ChatLineState = (typeof CHAT_LINE_STATES)[number];

/**
 * What a moderator does with a message. `let_through`, `set_aside`, `line_up`, `answered` and `unline` stay in the
 * house; `hide` goes out to the place where it can do that, and holds for ourselves in any case. `mute` hides, for
 * ourselves, what this author wrote and will write; `unmute` lets them be seen again. `ban` mutes, and shuts them out at
 * their place where it can do that; `unban` takes both back. `take` tells the others that somebody is about to deal with
 * it, `release` that they are not; whatever is done with it releases it. `tell_host` puts it before the host, and nobody
 * else, until `host_seen`.
 */
export const CHAT_ACTS = [
  'let_through',
  'set_aside',
  'hide',
  'mute',
  'unmute',
  'ban',
  'unban',
  'line_up',
  'answered',
  'unline',
  'tell_host',
  'host_seen',
  'take',
  'release',
] as const;
export type ChatAct = (typeof CHAT_ACTS)[number];
