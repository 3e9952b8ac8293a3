import { unheard, type ChatThere, type Unheard } from './unheard';

describe('why viewers of a destination are not heard', () => {
  const open: ChatThere = { canBeRead: true, isPublic: true, mayWrite: true, line: 'open' };
  const cases: readonly [string, Partial<ChatThere>, Unheard | null][] = [
    ['nothing is in the way', {}, null],
    ['nobody finds the listing', { isPublic: false }, 'not_public'],
    ['its chat is not open yet, which comes first', { isPublic: false, line: 'closed' }, 'closed'],
    ['the line is being made', { line: 'connecting' }, 'connecting'],
    ['the line is lost', { line: 'lost' }, 'lost'],
    ['the place refuses', { line: 'refused' }, 'refused'],
    ['the listing has its chat off', { mayWrite: false, line: 'closed' }, 'chat_off'],
    ['the place shows its chat to nobody else', { canBeRead: false, line: 'closed' }, 'no_chat'],
  ];
  for (const [what, change, wanted] of cases)
    it(what, () => expect(unheard({ ...open, ...change })).toBe(wanted));
});
