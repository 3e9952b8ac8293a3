import type { Express } from 'express';
import { escapeHtml, page } from './pages';

/** Something that the account's owner, or misfortune, does at a place by one press. */
export interface ConsoleAction {
  readonly label: string;
  readonly method: 'PUT' | 'POST';
  /** Under `/console`. */
  readonly path: string;
  readonly body: object;
}

const COMMON: readonly ConsoleAction[] = [
  { label: 'Everything well again', method: 'PUT', path: '/faults', body: {} },
  { label: 'The API answers with errors', method: 'PUT', path: '/faults', body: { api: 'fails' } },
  { label: 'The API does not answer', method: 'PUT', path: '/faults', body: { api: 'hangs' } },
  { label: 'Cut every line to the ingest', method: 'POST', path: '/cut', body: {} },
  {
    label: 'Flood the chat for 20 s',
    method: 'POST',
    path: '/chat/flood',
    body: { kind: 'copies', per_s: 6, seconds: 20, writers: 40 },
  },
  { label: 'End the short tokens', method: 'POST', path: '/tokens/expire', body: {} },
  { label: 'Take back every authorisation', method: 'POST', path: '/tokens/revoke', body: {} },
];

/**
 * The console of a made-up place as a page: what is there, what its owner can do, what can go wrong, and its rules, to
 * be changed without a word as real places do.
 */
export function serveConsolePage(
  http: Express,
  place: string,
  {
    actions = [],
    rules = null,
  }: { actions?: readonly ConsoleAction[]; rules?: Record<string, number> | null },
): void {
  http.get('/console', (_req, res) => {
    const keys = (list: readonly ConsoleAction[]) =>
      list
        .map(
          ({ label, method, path, body }) =>
            `<button data-method="${method}" data-path="${path}" data-body="${escapeHtml(JSON.stringify(body))}">${escapeHtml(label)}</button>`,
        )
        .join('\n');
    const figures = Object.entries(rules ?? {})
      .map(
        ([name, figure]) =>
          `<p><label>${escapeHtml(name)} <input type="number" data-rule="${escapeHtml(name)}" value="${figure}"></label></p>`,
      )
      .join('\n');
    const body = `<h1>The console</h1>
<p role="status" id="said">What its account’s owner does over there, and what can go wrong.</p>
<h2>Its owner</h2><p>${keys(actions) || 'Nothing more than what its pages offer.'}</p>
<h2>Misfortune</h2><p>${keys(COMMON)}</p>
${figures ? `<h2>What it allows</h2>${figures}` : ''}
<h2>What is there</h2><pre id="there">…</pre>`;
    res.type('html').send(page({ place, title: 'Console', body, scripts: ['/player/console.js'] }));
  });
  http.get('/player/console.js', (_req, res) => void res.type('js').send(CONSOLE_SCRIPT));
}

const CONSOLE_SCRIPT = `
const said = document.getElementById('said');
async function tell(method, path, body) {
  const response = await fetch('/console' + path, { method, headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) });
  said.textContent = response.ok ? 'Done.' : 'It was not taken: ' + response.status;
  read();
}
for (const key of document.querySelectorAll('button[data-path]'))
  key.addEventListener('click', () => tell(key.dataset.method, key.dataset.path, JSON.parse(key.dataset.body)));
for (const field of document.querySelectorAll('input[data-rule]'))
  field.addEventListener('change', () => tell('PUT', '/rules', { [field.dataset.rule]: Number(field.value) }));
async function read() {
  const read = async (path) => { const answer = await fetch(path); return answer.ok ? answer.json() : null; };
  const there = { events: await read('/console/events'), arrivals: await read('/console/arrivals') };
  document.getElementById('there').textContent = JSON.stringify(there, null, 2);
}
read();
`;
