import { chromium } from 'playwright-core';
import { LAUNCH } from './support/browser';
const url = 'http://localhost:8555';
const out = process.argv[2]!;
const which = (process.argv[3] ?? 'still').split(',');
const ID = 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f01';
const browser = await chromium.launch(LAUNCH as never);
const ctx = await browser.newContext({
  baseURL: url,
  viewport: { width: 1280, height: 800 },
  locale: 'en-GB',
  timezoneId: 'Europe/Lisbon',
});
await ctx.addInitScript('globalThis.__name = (f) => f');
const p = await ctx.newPage();
const shot = async (name: string, page = p) => {
  await page.waitForTimeout(600);
  await page.screenshot({ path: `${out}/${name}.png` });
  console.log(name);
};
await p.goto('/sign-in');
await p.getByRole('button', { name: /Teo/ }).waitFor();
if (which.includes('still')) await shot('sign-in');
await p.getByRole('button', { name: /Teo/ }).click();
await p.getByRole('heading', { name: 'Shows', level: 1 }).waitFor();
const still: [string, string][] = [
  ['shows', '/'],
  ['show', `/shows/${ID}`],
  ['listings', `/shows/${ID}/listings`],
  ['launch', `/shows/${ID}/launch`],
  ['season', '/season'],
  ['destinations', '/destinations'],
  ['rules', '/rules'],
  ['team', '/team'],
  ['pieces', '/pieces'],
];
if (which.includes('still'))
  for (const [name, path] of still) {
    await p.goto(path);
    await p.waitForLoadState('networkidle').catch(() => undefined);
    await shot(name);
  }
if (which.includes('desk')) {
  await p.goto(`/desk/${ID}`);
  await p.getByRole('button', { name: 'Compose here' }).click();
  const send = p.getByRole('button', { name: /Send in a stand-in/ });
  await send.click();
  await p.waitForTimeout(3000);
  await send.click();
  await p.waitForTimeout(6000);
  for (const b of await p.getByRole('button', { name: /^Bring on / }).all())
    if (await b.isEnabled()) {
      await b.click();
      await p.waitForTimeout(800);
      if ((await p.getByRole('button', { name: /^Take off / }).count()) >= 2) break;
    }
  await p.keyboard.press('r');
  await p.getByText('The relay has the programme.').waitFor();
  const all = p.getByRole('button', { name: 'Start everywhere' });
  await all.click();
  await p.getByRole('button', { name: 'Start everywhere now' }).click();
  const air = p.getByRole('button', { name: 'Go on air now' });
  await air
    .waitFor({ timeout: 5000 })
    .then(() => air.click())
    .catch(() => undefined);
  await p.getByText('It has to be published.', { exact: false }).waitFor();
  await p.getByRole('button', { name: /Publish at Kitefield/ }).click();
  await p
    .getByRole('button', { name: 'Publish now' })
    .click()
    .catch(() => undefined);
  await p.waitForTimeout(25000);
  await shot('desk');
  const m = await ctx.newPage();
  await m.goto(`/chat/${ID}`);
  await m.waitForTimeout(3000);
  await shot('chat', m);
  const [pub] = await Promise.all([
    ctx.waitForEvent('page'),
    p.getByRole('link', { name: /Public page of Emberplay/ }).click(),
  ]);
  await pub.waitForTimeout(5000);
  await shot('place', pub);
  await p.bringToFront();
  await p.getByRole('button', { name: 'End show' }).click();
  await p.waitForTimeout(1500);
  await shot('endshow');
  await p
    .getByRole('button', { name: 'End everywhere now' })
    .click()
    .catch((e) => console.log('end', String(e).slice(0, 100)));
  await p.waitForTimeout(6000);
  await shot('over');
}
await browser.close();
