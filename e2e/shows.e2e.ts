import { expect, makeShow, newTitle, save, test } from './support/house';

test('a producer makes a show, and everybody sees it at once', async ({ as }) => {
  const [teo, ingrid] = [await as('Teo'), await as('Ingrid')];
  const title = newTitle('Crumb and crust');
  await teo.getByRole('link', { name: 'New show' }).click();
  await teo.getByLabel('Title', { exact: true }).fill(title);
  await teo.getByLabel('Day').fill('2027-05-20');
  await teo.getByLabel('Time', { exact: true }).fill('19:00');
  const zone = teo.getByLabel('Time zone');
  await zone.fill('berl');
  await teo.getByRole('option', { name: 'Europe/Berlin' }).click();
  await expect(teo.getByText('For you that is Thursday 20 May 2027, 18:00.')).toBeVisible();
  await teo.getByLabel('Minutes planned').fill('75');
  await teo.getByLabel('Series', { exact: true }).selectOption('Bench Notes');
  await teo.getByRole('button', { name: 'Add a guest' }).click();
  await teo.getByLabel('Name of person 2').fill('Wanjiru Halloran');
  await save(teo);
  await expect(teo.getByText('Saved', { exact: true })).toBeVisible();

  const row = ingrid.getByRole('row', { name: new RegExp(title) });
  await expect(row).toContainText('Thu 20 May 2027');
  await expect(row).toContainText('18:00');
  await expect(row).toContainText('19:00 in Berlin');
  await row.getByRole('button').click();
  const chosen = ingrid.getByRole('region', { name: 'Chosen show' });
  await expect(chosen).toContainText('1 h 15 min');
  await expect(chosen).toContainText('Wanjiru Halloran');
  await expect(chosen).toContainText('There is no description');
});

test('a show stands in the season on its day, and is put away and brought back', async ({ as }) => {
  const teo = await as('Teo');
  const title = newTitle('Put away');
  await makeShow(teo, title);
  await teo.goto('/season');
  await expect(teo.getByRole('listitem').filter({ hasText: title })).toBeVisible();
  await teo.getByRole('link', { name: new RegExp(title) }).click();
  await teo.getByRole('button', { name: 'Put away' }).click();
  await expect(teo.getByText('This show is put away.')).toBeVisible();
  await expect(teo.getByLabel('Title', { exact: true })).toBeDisabled();
  await teo.goto('/shows');
  await expect(teo.getByRole('row', { name: new RegExp(title) })).toHaveCount(0);
  await teo.getByRole('button', { name: /Put away/ }).click();
  await teo
    .getByRole('row', { name: new RegExp(title) })
    .getByRole('button')
    .click();
  await teo.getByRole('link', { name: 'Open the plan' }).click();
  await teo.getByRole('button', { name: 'Bring back' }).click();
  await expect(teo.getByLabel('Title', { exact: true })).toBeEnabled();
});

test.describe('what cannot be right is said where it is entered', () => {
  test('an empty title is not sent', async ({ as }) => {
    const page = await as('Odalys');
    await page.goto('/shows/new');
    await save(page);
    await expect(page.getByText('The title is empty.')).toBeVisible();
    await expect(page.getByLabel('Title', { exact: true })).toHaveAttribute('aria-invalid', 'true');
    await expect(page).toHaveURL(/\/shows\/new/);
  });

  const starts: [string, string, string, RegExp][] = [
    ['2027-03-28', '02:30', 'Europe/Berlin', /skip this time that day. The nearest are 01:59 and 03:00/],
    ['2027-05-20', '19:00', 'Europe/Atlantis', /no such time zone/],
    ['2027-05-20', '', 'Europe/Berlin', /needs a day and a time/],
    ['1927-05-20', '19:00', 'Europe/Berlin', /year must be from 2000 to 2199/],
  ];
  for (const [day, time, zone, sentence] of starts) {
    test(`${day} ${time} ${zone}`, async ({ as }) => {
      const page = await as('Odalys');
      await page.goto('/shows/new');
      await page.getByLabel('Title', { exact: true }).fill('A show');
      await page.getByLabel('Day').fill(day);
      await page.getByLabel('Time', { exact: true }).fill(time);
      await page.getByLabel('Time zone').fill(zone);
      await expect(page.getByText(sentence)).toBeVisible();
      await save(page);
      await expect(page).toHaveURL(/\/shows\/new/);
    });
  }

  test('a time that comes twice asks which is meant', async ({ as }) => {
    const page = await as('Odalys');
    await page.goto('/shows/new');
    await page.getByLabel('Title', { exact: true }).fill(newTitle('Twice'));
    await page.getByLabel('Day').fill('2027-10-31');
    await page.getByLabel('Time', { exact: true }).fill('02:30');
    await page.getByLabel('Time zone').fill('Europe/Berlin');
    await page.getByLabel('The second (GMT+1)').check();
    await expect(page.getByText('For you that is Sunday 31 October 2027, 01:30.')).toBeVisible();
    await page.getByLabel('The first (GMT+2)').check();
    await expect(page.getByText('For you that is Sunday 31 October 2027, 01:30.')).toBeVisible();
    await save(page);
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  });

  test('HTML stays the text it is, wherever it is shown', async ({ as }) => {
    const page = await as('Teo');
    let ran = false;
    await page.exposeFunction('ranIt', () => (ran = true));
    const html = `<img src=x onerror="ranIt()"> <b>${newTitle('bold')}</b>`;
    await makeShow(page, html);
    await page.getByLabel('Description').fill(`<script>ranIt()</script>${html}`);
    await page.getByRole('button', { name: 'Add a guest' }).click();
    await page.getByLabel('Name of person 2').fill(html.slice(0, 70));
    await page.getByRole('button', { name: 'New series' }).click();
    await page.getByLabel('Name of the new series').fill(html.slice(0, 75));
    await page.getByRole('button', { name: 'Make it' }).click();
    await save(page);
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    for (const path of ['/shows', '/season', page.url(), page.url().replace('/shows/', '/desk/')]) {
      await page.goto(path);
      await expect(page.getByText(html).first()).toBeVisible();
    }
    expect(ran).toBe(false);
    await page.goto(page.url().replace('/desk/', '/shows/'));
    await page.getByRole('button', { name: 'Put away' }).click();
    await expect(page.getByText('This show is put away.')).toBeVisible();
  });

  test('an address that is guessed finds nothing', async ({ as }) => {
    const page = await as('Teo');
    await page.goto(`/shows/${crypto.randomUUID()}`);
    await expect(page.getByText('There is no such show')).toBeVisible();
    await page.goto('/nowhere/at/all');
    await expect(page.getByText('There is nothing at this address')).toBeVisible();
  });
});

test.describe('two editors at once', () => {
  test('who changed different things, keep both without a question', async ({ as }) => {
    const [teo, odalys] = [await as('Teo'), await as('Odalys')];
    const title = newTitle('Two at once');
    await makeShow(teo, title);
    await odalys.goto(teo.url());
    await odalys.getByLabel('Description').fill('Odalys wrote this.');
    await teo.getByLabel('Title', { exact: true }).fill(`${title} by Teo`);
    await save(teo);
    await expect(teo.getByText('Saved', { exact: true })).toBeVisible();
    await expect(
      odalys.getByText('Teo Marchetti-Lunn saved this show meanwhile and changed: Title.'),
    ).toBeVisible();
    await save(odalys);
    await expect(
      odalys.getByText('together with what Teo Marchetti-Lunn had changed meanwhile: Title.'),
    ).toBeVisible();
    await expect(odalys.getByLabel('Title', { exact: true })).toHaveValue(`${title} by Teo`);
    await expect(teo.getByLabel('Description')).toHaveValue('Odalys wrote this.');
  });

  test('who changed the same, are asked, and nothing is lost on the way', async ({ as }) => {
    const [teo, odalys] = [await as('Teo'), await as('Odalys')];
    const title = newTitle('Same place');
    await makeShow(teo, title);
    await odalys.goto(teo.url());
    await odalys.getByLabel('Title', { exact: true }).fill(`${title}, Odalys’s`);
    await odalys.getByLabel('Minutes planned').fill('90');
    await teo.getByLabel('Title', { exact: true }).fill(`${title}, Teo’s`);
    await save(teo);
    await expect(teo.getByText('Saved', { exact: true })).toBeVisible();
    await save(odalys);
    const dialog = odalys.getByRole('dialog', { name: 'Two of you changed the same' });
    await expect(dialog).toContainText(`${title}, Odalys’s`);
    await dialog.getByRole('button', { name: 'Back to my writing' }).click();
    await expect(dialog).toBeHidden();
    await expect(odalys.getByLabel('Title', { exact: true })).toHaveValue(`${title}, Odalys’s`);
    await save(odalys);
    await dialog.getByRole('radio', { name: /Teo Marchetti-Lunn’s/ }).check();
    await dialog.getByRole('button', { name: 'Save it so' }).click();
    await expect(odalys.getByText('Saved, together with')).toBeVisible();
    await expect(odalys.getByLabel('Title', { exact: true })).toHaveValue(`${title}, Teo’s`);
    await expect(teo.getByLabel('Minutes planned')).toHaveValue('90');
  });

  test('what was not saved is still there after a reload, and can be dropped', async ({ as }) => {
    const odalys = await as('Odalys');
    const title = newTitle('Draft');
    await makeShow(odalys, title);
    await odalys.getByLabel('Description').fill('Not saved yet.');
    await expect(odalys.getByText('Kept in this browser meanwhile')).toBeVisible();
    await odalys.reload();
    await expect(odalys.getByText('and did not save is still here')).toBeVisible();
    await expect(odalys.getByLabel('Description')).toHaveValue('Not saved yet.');
    await odalys.getByRole('button', { name: 'Drop it' }).click();
    await expect(odalys.getByLabel('Description')).toHaveValue('');
    await odalys.reload();
    await expect(odalys.getByLabel('Description')).toHaveValue('');
  });
});
