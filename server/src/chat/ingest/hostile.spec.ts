import { findMessages, ANYTHING, readChat } from '@juncta/contract/chat';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

describe('what viewers write, whatever it is,', () => {
  const at = withShowAtPlace({ started: true });
  const messages = async () =>
    (await at.house.as.moderator.get(readChat, { params: { showId: at.showId } })).messages;
  const arrived = (count: number) =>
    until(`${count} are there`, async () => (await messages()).length === count);

  it('is text: HTML, script, signs that turn or disguise, and very much of it', async () => {
    const texts = [
      '<script>alert(1)</script><img src=x onerror=alert(2)>',
      "'; drop table chat_message; --",
      '{{constructor.constructor("alert(3)")()}}',
      '\u202eruoy si siht\u202c',
      'nul \u0000 and bell \u0007 and escape \u001b[31m',
      'x'.repeat(10_000),
      '🍞'.repeat(10_000),
      'عربي and עברית and 漢字 and ไทย',
      '=cmd|" /C calc"!A0',
      'half a sign \ud83c and its other half \udf5e',
      // Cut in the middle of a sign where it is too long.
      `y${'🍞'.repeat(10_001)}`,
    ];
    for (const text of texts) at.place.write(text, 'Ottoline');
    await arrived(texts.length);
    const kept = (await messages()).map(({ text }) => text);
    expect(kept).toContain(texts[0]!);
    expect(kept).toContain(texts[1]!);
    expect(kept).toContain(texts[2]!);
    expect(kept).toContain('ruoy si siht');
    expect(kept).toContain('nul  and bell  and escape [31m');
    expect(kept).toContain(texts[5]!);
    expect(kept).toContain(texts[7]!);
    const emoji = kept.find((text) => text.startsWith('🍞'))!;
    expect(emoji.length).toBe(20_000);
    expect(emoji.endsWith('🍞')).withContext('not cut in the middle of a sign').toBeTrue();
    expect(kept).toContain('half a sign \ufffd and its other half \ufffd');
    expect(kept.find((text) => text.startsWith('y🍞'))!.endsWith('\ufffd')).toBeTrue();
    const headers = { Cookie: at.house.as.moderator.cookieHeader };
    const csv = await (await fetch(`${at.house.url}/api/shows/${at.showId}/chat.csv`, { headers })).text();
    expect(csv).toContain(`"'=cmd|"" /C calc""!A0"`);
  });

  it('has an id without anything that a database cannot keep', async () => {
    at.place.write('Strange', 'nul\u0000 and half \ud83c');
    await arrived(1);
    expect((await messages())[0]!.author.id).toBe('nul and half \ufffd');
  });

  it('has an author even without a name, and a time that is not the day after tomorrow', async () => {
    at.place.write('Who am I?', '');
    at.place.write('From the future', 'Ottoline', Date.now() + 2 * 24 * 3_600_000);
    await arrived(2);
    const [, late] = await messages();
    expect((await messages()).map(({ author }) => author.name).sort()).toEqual(['?', 'Ottoline']);
    expect(late!.text).toBe('From the future');
    expect(late!.writtenAtMs).toBeLessThan(Date.now() + 10 * 60_000);
    expect(late!.showTimeMs).toBeNull();
  });

  it('is found by the signs that stand for others in patterns, and by none else', async () => {
    at.place.write('100% rye', 'Ottoline');
    at.place.write('one hundred rye', 'under_score');
    at.place.write('back\\slash', 'Ottoline');
    await arrived(3);
    const find = async (text: string) =>
      (
        await at.house.as.moderator.get(findMessages, {
          params: { showId: at.showId },
          body: { ...ANYTHING, text },
        })
      ).messages.map((one) => one.text);
    expect(await find('%')).toEqual(['100% rye']);
    expect(await find('_')).toEqual(['one hundred rye']);
    expect(await find('\\')).toEqual(['back\\slash']);
    expect((await find('RYE')).sort()).toEqual(['100% rye', 'one hundred rye']);
    expect(await find("'; drop")).toEqual([]);
  });
});
