import sharp from 'sharp';
import { violations } from '../support/axe';
import { addPlacement, connectTrade, TRADE } from '../support/destinations';
import { expect, makeShow, newTitle, save, test } from '../support/house';
import { guildroad, kitefield, porchway } from '../support/place';

/** Two accounts at one place, three placements of another, two of a third, one that cannot be booked, one by key. */
const BOOKED = [
  'Kitefield, the school’s channel',
  TRADE,
  'Porchway, the school’s page',
  'Porchway, Your profile',
  'Porchway, Sourdough neighbours',
  'Guildroad, the school’s page',
  'Guildroad, Millrace for trade bakers',
];
const CLOCK_CHANGE = '2027-03-28';
/** Of an event, by whichever word its place has for it. */
const startOf = (event: Record<string, unknown>) =>
  Date.parse(String(event['starts_at'] ?? event['begins'] ?? event['slot']));

test('a show is planned from nothing for eight destinations at four places, and moved', async ({ as }) => {
  test.slow();
  const teo = await as('Teo');
  await porchway.setAccount({ circleAdmits: true });
  try {
    await teo.goto('/destinations');
    await connectTrade(teo);
    await addPlacement(teo, /Placements of Porchway/, 'Your profile', 'Porchway, Your profile');
    await addPlacement(
      teo,
      /Placements of Porchway/,
      'Sourdough neighbours',
      'Porchway, Sourdough neighbours',
    );
    await addPlacement(teo, /Placements of Guildroad/, 'Millrace for trade bakers', BOOKED[6]!);

    const title = newTitle('Eight ovens');
    await makeShow(teo, title);
    const day = new Date(Date.now() + 4 * 86_400_000).toISOString().slice(0, 10);
    await teo.getByLabel('Day').fill(day);
    await teo.getByLabel('Time', { exact: true }).fill('19:00');
    await save(teo);
    await expect(teo.getByText('Saved', { exact: true })).toBeVisible();
    for (const name of [...BOOKED, 'Emberplay, the school’s channel'])
      await teo.getByRole('checkbox', { name, exact: true }).check();
    const paper = sharp({ create: { width: 1920, height: 1080, channels: 3, background: '#275' } });
    await teo.getByLabel('Choose a file').setInputFiles({
      name: 'poster.png',
      mimeType: 'image/png',
      buffer: await paper.png().toBuffer(),
    });
    await expect(teo.getByText('1920 × 1080 pixels')).toBeVisible();

    await teo.getByRole('link', { name: 'Listings', exact: true }).click();
    await expect(teo.getByRole('button', { name: /^Edit the listing at/ })).toHaveCount(8);
    // Laid down once, wherever a place has it.
    const shared = teo.getByRole('region', { name: 'All listings share' });
    await shared.getByLabel('Topics').fill('ovens, crust');
    await shared.getByLabel('Topics').blur();
    await shared.getByLabel('Language').fill('en');
    await shared.getByLabel('Language').blur();
    await expect(shared.getByLabel('Language')).toHaveValue('en');
    expect(await violations(teo)).toEqual([]);

    await teo.getByRole('button', { name: 'Book all' }).click();
    await expect(teo.getByText('Done at 7 destinations.')).toBeVisible();
    const ours = async () => {
      const all = [
        ...(await kitefield.events()),
        ...(await porchway.events()),
        ...(await guildroad.events()),
      ];
      return all.filter((event) => [event['title'], event['headline'], event['subject']].includes(title));
    };
    expect((await ours()).length).toBe(7);
    const before = new Map((await ours()).map((event) => [event.page, startOf(event)]));
    for (const event of (await kitefield.events()).filter((one) => one['title'] === title))
      expect(event.settings).toMatchObject({ topics: ['ovens', 'crust'], language: 'en' });

    // Moved to an hour that clocks skip: the plan says which are the nearest, and takes one of those.
    await teo.getByRole('link', { name: title }).click();
    await teo.getByLabel('Day').fill(CLOCK_CHANGE);
    await teo.getByLabel('Time', { exact: true }).fill('01:30');
    await expect(
      teo.getByText('Clocks in Europe/Lisbon skip this time that day. The nearest are 00:59 and 02:00.'),
    ).toBeVisible();
    // A day later than planned: every event moves along with it.
    await teo.getByLabel('Day').fill(new Date(Date.now() + 5 * 86_400_000).toISOString().slice(0, 10));
    await teo.getByLabel('Time', { exact: true }).fill('20:30');
    await save(teo);
    await expect(teo.getByText('Saved', { exact: true })).toBeVisible();
    await teo.getByRole('link', { name: 'Listings', exact: true }).click();
    const movedBy = async () =>
      new Set((await ours()).map((event) => startOf(event) - before.get(event.page)!));
    await teo.getByRole('button', { name: 'Send all again' }).click();
    await expect.poll(async () => [...(await movedBy())]).toEqual([25.5 * 3_600_000]);
    expect((await ours()).map(({ state }) => state)).toEqual(Array(7).fill('booked'));
  } finally {
    await porchway.setAccount({ circleAdmits: false });
  }
});
