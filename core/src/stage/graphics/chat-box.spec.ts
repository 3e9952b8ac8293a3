import fc from 'fast-check';
import { MESSAGE_KINDS, STANDINGS } from '../../chat';
import { messagesInBox, NO_CHAT_BOX, type BoxedMessage, type ChatBox } from './chat-box';

const NOW_MS = 1_000_000;
const BOX: ChatBox = { ...NO_CHAT_BOX, isOn: true, delayS: 3, staysS: 30 };
const written = (agoS: number, change: Partial<BoxedMessage> = {}): BoxedMessage => ({
  id: `m${agoS}`,
  destinationId: 'here',
  kind: 'message',
  standing: 'shown',
  takenBack: false,
  writtenAtMs: NOW_MS - agoS * 1000,
  ...change,
});

describe('messages in the picture', () => {
  it('are those that moderation lets through, from where and for as long as was said', () => {
    const table: [string, BoxedMessage, Partial<ChatBox>, boolean][] = [
      ['one that was written a moment ago', written(5), {}, true],
      ['while it may still be looked at', written(2), {}, false],
      ['without a delay', written(0), { delayS: 0 }, true],
      ['to the last moment', written(32.9), {}, true],
      ['and no longer', written(33), {}, false],
      ['but as long as there is room', written(3000), { staysS: null }, true],
      ['set aside', written(5, { standing: 'aside' }), {}, false],
      ['hidden', written(5, { standing: 'hidden' }), {}, false],
      ['taken back', written(5, { takenBack: true }), {}, false],
      ['to the house alone', written(5, { kind: 'private' }), {}, false],
      ['a follower', written(5, { kind: 'follow' }), {}, true],
      ['a follower, where notices are not wanted', written(5, { kind: 'follow' }), { notices: false }, false],
      ['from a destination that is left out', written(5), { leftOut: ['here'] }, false],
      ['from another one', written(5), { leftOut: ['there'] }, true],
      ['while the box is off', written(5), { isOn: false }, false],
    ];
    for (const [what, message, box, isSeen] of table)
      expect(messagesInBox([message], { ...BOX, ...box }, NOW_MS).length > 0)
        .withContext(what)
        .toBe(isSeen);
  });

  it('are the newest of them, in the order of writing', () => {
    const anyMessage = fc
      .record({
        agoS: fc.integer({ min: 0, max: 60 }),
        kind: fc.constantFrom(...MESSAGE_KINDS),
        standing: fc.constantFrom(...STANDINGS),
        takenBack: fc.boolean(),
      })
      .map(({ agoS, ...change }) => written(agoS, change));
    fc.assert(
      fc.property(fc.array(anyMessage, { maxLength: 30 }), fc.integer({ min: 1, max: 8 }), (some, most) => {
        const messages = some.toSorted((a, b) => a.writtenAtMs - b.writtenAtMs);
        const all = messagesInBox(messages, { ...BOX, most: 1000 }, NOW_MS);
        const seen = messagesInBox(messages, { ...BOX, most }, NOW_MS);
        expect(seen).toEqual(all.slice(-most));
        expect(seen.every(({ standing, takenBack }) => standing === 'shown' && !takenBack)).toBeTrue();
      }),
    );
  });
});
