import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { violations } from './support/axe';
import { freePort, Run } from './support/run';

interface Mark {
  pid: number;
  name: string;
}
const children = (dir: string): Mark[] =>
  (JSON.parse(readFileSync(path.join(dir, 'running.json'), 'utf8')) as { children: Mark[] }).children;
const isAlive = ({ pid }: Mark) =>
  existsSync(`/proc/${pid}/stat`) && !readFileSync(`/proc/${pid}/stat`, 'utf8').includes(') Z ');

let dir: string;
test.beforeEach(() => (dir = mkdtempSync(path.join('/tmp', 'juncta-start-'))));
test.afterEach(() => rmSync(dir, { recursive: true, force: true }));
// PostgreSQL's own account has to get in.
test.beforeEach(async () => (await import('node:fs/promises')).chmod(dir, 0o755));

test('a run that was killed leaves processes behind, and the next one clears them', async () => {
  test.setTimeout(120_000);
  const port = String(await freePort());
  const first = new Run(['--port', port, '--data', dir]);
  await first.says('Juncta is ready');
  const left = children(dir);
  expect(left.map(({ name }) => name)).toEqual([
    'database',
    'rehearsal-clock',
    'emberplay',
    'kitefield',
    'porchway',
    'guildroad',
    'janus',
    'stand-in-guests',
    'stand-in-encoders',
    'relay',
    'server',
  ]);
  first.child.kill('SIGKILL');
  await first.ended;
  expect(left.every(isAlive)).toBe(true);

  const again = new Run(['--port', port, '--data', dir]);
  await again.says(`Cleared what an earlier run left: ${left.map(({ name }) => name).join(', ')}`);
  expect(left.some(isAlive)).toBe(false);
  await again.says('Juncta is ready');

  const beside = new Run(['--port', String(await freePort()), '--data', dir]);
  expect(await beside.ended).toBe(1);
  expect(beside.output).toContain('already runs on this data folder');

  const running = children(dir);
  again.child.kill('SIGTERM');
  expect(await again.ended).toBe(0);
  expect(running.some(isAlive)).toBe(false);
  expect(existsSync(path.join(dir, 'running.json'))).toBe(false);
});

test('without the demo, the first producer comes in by a link that works once, and helps others in', async ({
  page,
  browser,
}) => {
  test.setTimeout(120_000);
  const port = String(await freePort());
  const run = new Run(['--no-demo', '--port', port, '--data', dir]);
  await run.says('(works once');
  const link = /http:\S+invitation#\S+/.exec(run.output)![0];
  await page.goto(link);
  await page.getByLabel('Your name').fill('Ada Pell');
  await page.getByLabel('E-mail address').fill('ada@house.example');
  await page.getByLabel('Password').fill('nine loaves of rye');
  await page.getByRole('button', { name: 'Join' }).click();
  await expect(page.getByText('No show here yet')).toBeVisible();
  await page.getByRole('link', { name: 'Team' }).click();
  await page.getByLabel('Present password').fill('nine loaves');
  await page.getByLabel('New password').fill('ten loaves of rye');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByText('This is not your present password.')).toBeVisible();
  await page.getByLabel('Present password').fill('nine loaves of rye');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByText('Your password is changed.')).toBeVisible();
  await page.getByRole('button', { name: /Ada Pell.*producer/ }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await page.getByLabel('E-mail address').fill('ADA@house.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toContainText('do not belong together');
  await page.getByLabel('Password').fill('ten loaves of rye');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('No show here yet')).toBeVisible();

  // A colleague joins, loses the password, is helped by a producer, and gets another role.
  await page.getByRole('link', { name: 'Team' }).click();
  await page.getByRole('button', { name: 'Make a link' }).click();
  const colleague = await (await browser.newContext()).newPage();
  await colleague.goto(await page.getByLabel('Link for a moderator').inputValue());
  await colleague.getByLabel('Your name').fill('Bram Oster');
  await colleague.getByLabel('E-mail address').fill('bram@house.example');
  await colleague.getByLabel('Password').fill('soon forgotten');
  await colleague.getByRole('button', { name: 'Join' }).click();
  await expect(colleague.getByText('No show here yet')).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Link to a new password for Bram Oster' }).click();
  expect(await violations(page)).toEqual([]);
  await colleague.goto(await page.getByLabel('Link to a new password for Bram Oster').last().inputValue());
  await expect(colleague.getByText('For Bram Oster, who signs in as bram@house.example')).toBeVisible();
  await colleague.getByLabel('New password').fill('short');
  await colleague.getByRole('button', { name: 'Keep it and sign in' }).click();
  await expect(colleague.getByRole('textbox', { name: 'New password' })).toHaveAccessibleDescription(/10/);
  expect(await violations(colleague)).toEqual([]);
  await colleague.getByLabel('New password').fill('written down this time');
  await colleague.getByRole('button', { name: 'Keep it and sign in' }).click();
  await expect(colleague.getByRole('button', { name: /Bram Oster.*moderator/ })).toBeVisible();
  await page.getByLabel('Role of Bram Oster').selectOption('host');
  await page.getByRole('button', { name: 'Make Bram Oster host' }).click();
  await page.getByRole('button', { name: 'Press again: signs them out' }).click();
  await expect(page.getByRole('row', { name: /Bram Oster.*writes and runs shows/ })).toBeVisible();
  await expect(colleague.getByText('Your session has ended.', { exact: false })).toBeVisible();
  await colleague.context().close();

  // Nothing that faces the network has root's power, whoever started it.
  for (const { name, pid } of children(dir))
    expect([name, statSync(`/proc/${pid}`).uid]).not.toEqual([name, 0]);

  // No door of the demo, and nobody's clock, is there.
  expect(await (await page.request.get(`http://localhost:${port}/api/session/demo`)).json()).toEqual({
    accounts: [],
  });
  expect(children(dir).map(({ name }) => name)).not.toContain('rehearsal-clock');
  run.child.kill('SIGINT');
  expect(await run.ended).toBe(0);
});

test('with a certificate it serves HTTPS, and its cookies travel no other way', async ({ browser }) => {
  test.setTimeout(120_000);
  const [cert, key] = [path.join(dir, 'cert.pem'), path.join(dir, 'key.pem')];
  const made = ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', '/CN=localhost'];
  execFileSync('openssl', [...made, '-keyout', key, '-out', cert], { stdio: 'ignore' });
  const port = String(await freePort());
  const run = new Run(['--https', cert, key, '--port', port, '--data', path.join(dir, 'data')]);
  // The key is only for whoever made it: where that is root, the server keeps root's power, and says so.
  if (process.getuid?.() === 0) await run.says('Everything runs as root: the account "nobody" may not read');
  await run.says(`Juncta is ready:  https://localhost:${port}`);
  const context = await browser.newContext({ ignoreHTTPSErrors: true });
  const page = await context.newPage();
  await page.goto(`https://localhost:${port}/`);
  await page.getByRole('button', { name: /Ingrid/ }).click();
  await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
  const cookies = await context.cookies();
  expect(cookies.map(({ secure }) => secure)).toEqual([true, true]);
  expect(cookies.map(({ name }) => name)).toContain('__Host-juncta_session');
  expect(await page.evaluate(() => isSecureContext)).toBe(true);
  run.child.kill('SIGTERM');
  expect(await run.ended).toBe(0);
  await context.close();
});

test('a taken port is told in a sentence, and nothing is left running', async () => {
  const taken = createServer();
  await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done));
  const { port } = taken.address() as { port: number };
  const run = new Run(['--port', String(port), '--data', dir]);
  expect(await run.ended).toBe(1);
  expect(run.output).toContain(`Something else listens on port ${port}`);
  expect(run.output).not.toContain('    at ');
  expect(existsSync(path.join(dir, 'running.json'))).toBe(false);
  taken.close();
});

const wrong: [string, string[], RegExp][] = [
  ['an unknown option', ['--fast'], /Unknown option '--fast'/],
  ['a port that is none', ['--port', 'eighty'], /--port takes a number from 1 to 65535/],
  ['a stray word', ['fresh'], /"fresh" is not an option/],
  [
    'a certificate that is not there',
    ['--https', '/nowhere/a.pem', '/nowhere/b.pem'],
    /There is no file \/nowhere\/a.pem/,
  ],
  ['a folder that cannot be', ['--data', '/proc/juncta'], /The data folder \/proc\/juncta cannot be used/],
];
for (const [what, args, sentence] of wrong) {
  test(`${what} is told in a sentence`, async () => {
    const run = new Run([...args]);
    expect(await run.ended).toBe(1);
    expect(run.output).toMatch(sentence);
    expect(run.output).not.toContain('    at ');
  });
}

test('--help tells all options', async () => {
  const run = new Run(['--help']);
  expect(await run.ended).toBe(0);
  for (const option of ['--port', '--data', '--fresh', '--no-demo', '--https']) {
    expect(run.output).toContain(option);
  }
});
