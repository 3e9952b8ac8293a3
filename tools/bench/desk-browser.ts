import { chromium, type Browser, type Page } from '@playwright/test';
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import WebSocket from 'ws';
import { Failure } from '../machine/failure';
import { freePort } from '../machine/ports';
import { endProcesses, markOf, pause } from '../machine/processes';
import type { House } from '../test/house';

/**
 * A browser as a person starts it. Playwright sets the desk up in it and then lets go: while it holds a page, that is
 * never taken for hidden, whatever stands before it. What is measured afterwards goes through the DevTools port.
 */
export interface DeskBrowser {
  readonly page: Page;
  /** Playwright lets go of the page. */
  release(): Promise<void>;
  /** After `release`: evaluates an expression in the page and waits for what it promises. */
  evaluate<T>(expression: string): Promise<T>;
  /** After `release`: puts another tab before the desk's, and sees to it that the desk's is hidden. */
  hide(): Promise<void>;
  close(): Promise<void>;
}

export async function openDeskBrowser(house: House): Promise<DeskBrowser> {
  const port = await freePort();
  const profile = mkdtempSync(path.join(tmpdir(), 'juncta-bench-'));
  const child = spawn(
    '/usr/bin/chromium',
    [
      '--headless=new',
      `--remote-debugging-port=${port}`,
      `--user-data-dir=${profile}`,
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
      // A screen can be shared without anybody who allows it.
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
      '--window-size=1280,800',
      'about:blank',
    ],
    { stdio: 'ignore', detached: true },
  );
  const mark = markOf(child.pid!, 'chromium');
  const devtools = `http://127.0.0.1:${port}`;
  while (!(await fetch(`${devtools}/json/version`).catch(() => null))?.ok) await pause(100);
  const browser: Browser = await chromium.connectOverCDP(devtools);
  const context = browser.contexts()[0]!;
  const page = context.pages()[0]!;
  await page.goto(`${house.url}/sign-in`);
  await page.getByRole('button', { name: /Teo/ }).click();
  await page.getByRole('heading', { name: 'Shows', level: 1 }).waitFor();
  return {
    page,
    release: () => browser.close(),
    evaluate: <T>(expression: string) => evaluate<T>(devtools, expression),
    async hide() {
      await fetch(`${devtools}/json/new?about:blank`, { method: 'PUT' });
      for (let tries = 0; !(await evaluate<boolean>(devtools, 'document.hidden')); tries++) {
        if (tries > 50) throw new Failure('The page was not hidden by the tab before it.');
        await pause(100);
      }
    },
    async close() {
      await browser.close().catch(() => undefined);
      if (mark) await endProcesses([mark], 5000);
      // Its helpers outlive it for a moment, and write into the profile. They are its own group.
      try {
        process.kill(-child.pid!, 'SIGKILL');
      } catch {
        // None was left.
      }
      rmSync(profile, { recursive: true, force: true, maxRetries: 10, retryDelay: 200 });
    },
  };
}

/** One expression over a DevTools socket of its own (Chrome DevTools Protocol, Runtime.evaluate). */
async function evaluate<T>(devtools: string, expression: string): Promise<T> {
  const tabs = (await (await fetch(`${devtools}/json/list`)).json()) as {
    url: string;
    type: string;
    webSocketDebuggerUrl: string;
  }[];
  const tab = tabs.find(({ url, type }) => type === 'page' && url.includes('/desk/'));
  if (!tab) throw new Failure('The desk is not open in the browser.');
  const socket = new WebSocket(tab.webSocketDebuggerUrl);
  await new Promise((open, failed) => socket.once('open', open).once('error', failed));
  try {
    const answer = new Promise<string>((done) =>
      socket.once('message', (data) => done((data as Buffer).toString())),
    );
    const params = { expression, awaitPromise: true, returnByValue: true };
    socket.send(JSON.stringify({ id: 1, method: 'Runtime.evaluate', params }));
    const { result } = JSON.parse(await answer) as {
      result: { result: { value: T }; exceptionDetails?: { text: string } };
    };
    if (result.exceptionDetails) throw new Failure(`In the page: ${result.exceptionDetails.text}`);
    return result.result.value;
  } finally {
    socket.close();
  }
}

/** A show with so many people, made for a bench; gives its id. */
export async function makeShow(page: Page, people: number): Promise<string> {
  return page.evaluate(async (count) => {
    const id = crypto.randomUUID();
    const csrf = /juncta_csrf=([^;]+)/.exec(document.cookie)?.[1] ?? '';
    const guests = Array.from({ length: count }, (_, i) => ({
      id: crypto.randomUUID(),
      memberId: null,
      name: `Guest ${i + 1}`,
      part: 'guest',
      about: 'Measured',
    }));
    const text = {
      title: 'Bench',
      description: '',
      seriesId: null,
      start: null,
      plannedMinutes: 60,
      people: guests,
    };
    const response = await fetch('/api/shows', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Juncta-Csrf': csrf },
      body: JSON.stringify({ id, text }),
    });
    if (!response.ok) throw new Error(await response.text());
    return id;
  }, people);
}

/** Gives somebody of the show a test pattern, at a desk that composes. */
export async function addPattern(page: Page, name: string, isGrainy = false): Promise<void> {
  await page.getByRole('button', { name: 'Sources' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sources of this desk' });
  await dialog.getByLabel('Whose').selectOption({ label: name });
  await dialog.getByLabel(/grainy/).setChecked(isGrainy);
  await dialog.getByRole('button', { name: 'Add test pattern' }).click();
  await dialog.getByRole('button', { name: 'Close' }).click();
}

/** Opens a show's desk, gives so many people a test pattern, and brings them on. */
export async function compose(
  page: Page,
  house: House,
  showId: string,
  names: readonly string[],
  layout: string,
  isGrainy = false,
): Promise<void> {
  await page.goto(`${house.url}/desk/${showId}`);
  await page.getByRole('button', { name: 'Compose here' }).click();
  for (const name of names) {
    await addPattern(page, name, isGrainy);
    await page.getByRole('button', { name: `Bring on ${name}` }).click();
  }
  await page.getByRole('button', { name: layout, exact: true }).click();
  await page.getByText('The relay has the programme.').waitFor();
}

/** Of sorted values. */
export const quantile = (sorted: readonly number[], q: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * q))] ?? NaN;

export const round = (value: number, digits = 1): number => Math.round(value * 10 ** digits) / 10 ** digits;
