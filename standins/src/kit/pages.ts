/** The plain pages of a made-up place. Everything from outside is text, and is written as text. */
export function escapeHtml(text: string): string {
  const names: Record<string, string> = {
    '&': '&amp;',
    '<': '&lt;',
    '>': '&gt;',
    '"': '&quot;',
    "'": '&#39;',
  };
  return text.replace(/[&<>"']/g, (letter) => names[letter]!);
}

export interface PlacePage {
  readonly place: string;
  readonly title: string;
  /** HTML, made by the place itself. */
  readonly body: string;
  readonly scripts?: readonly string[];
}

export function page({ place, title, body, scripts = [] }: PlacePage): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)} · ${escapeHtml(place)}</title>
<style>
body { margin: 0 auto; max-width: 60rem; padding: 1rem; font: 1rem/1.5 serif; background: #f4f1ec; color: #241d15; }
header { border-bottom: 3px double #8a6a3c; margin-bottom: 1rem; }
header small { float: right; padding-top: .6rem; }
video { width: 100%; aspect-ratio: 16/9; background: #201a12; }
h1 { font-size: 1.5rem; margin: .5rem 0; }
h2 { font-size: 1.1rem; margin: 1rem 0 .25rem; }
ol { list-style: none; margin: 0; padding: 0; max-height: 18rem; overflow-y: auto; }
ol li { padding: .15rem 0; overflow-wrap: anywhere; }
form { display: flex; flex-wrap: wrap; gap: .5rem; margin-top: .5rem; }
dl { display: grid; grid-template-columns: 12rem 1fr; gap: .25rem 1rem; }
dd { margin: 0; }
button { margin: .15rem .3rem .15rem 0; }
pre { overflow: auto; max-height: 24rem; background: #e9e3d6; padding: .5rem; font-size: .8rem; }
</style>
</head>
<body>
<header><small>a stand-in: nothing here leaves this machine · <a href="/console">console</a></small><strong>${escapeHtml(place)}</strong></header>
${body}
${scripts.map((src) => `<script src="${src}"></script>`).join('\n')}
</body>
</html>`;
}

/** The picture alone, for pages of others. `src`: null while there is none. */
export function embedPage(of: {
  readonly place: string;
  readonly title: string;
  readonly src: string | null;
  readonly live: string;
}): string {
  const picture = of.src
    ? `<video controls playsinline data-src="${of.src}" aria-label="${escapeHtml(of.title)}"></video>`
    : `<p>${escapeHtml(of.title)} · ${escapeHtml(of.place)}: there is no picture just now.</p>`;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>${escapeHtml(of.title)} · ${escapeHtml(of.place)}</title>
<style>
body { margin: 0; background: #201a12; color: #f4f1ec; font: 1rem/1.5 serif; }
video { display: block; width: 100vw; height: 100vh; }
p { padding: 1rem; }
</style>
</head>
<body data-live="${of.live}">
${picture}
<script src="/player/hls.js"></script>
<script src="/player/player.js"></script>
</body>
</html>`;
}

/** Plays what a place's packager cuts; `data-src` on the video names it. */
export const PLAYER_SCRIPT = `
const video = document.querySelector('video[data-src]');
if (video && window.Hls) {
  const player = new Hls({ liveSyncDurationCount: 2, lowLatencyMode: false });
  player.on(Hls.Events.ERROR, (_, problem) => {
    if (problem.fatal) setTimeout(() => player.loadSource(video.dataset.src), 1500);
  });
  video.muted = true;
  player.on(Hls.Events.MANIFEST_PARSED, () => void video.play().catch(() => undefined));
  player.attachMedia(video);
  player.loadSource(video.dataset.src);
}
let shown = document.body.dataset.live;
setInterval(async () => {
  const answer = await fetch('state').then((response) => response.json()).catch(() => null);
  if (answer && shown !== undefined && answer.live !== shown) location.reload();
  const title = document.querySelector('h1');
  if (answer) shown = answer.live;
  if (answer && title) title.textContent = answer.title;
}, 2000);
`;

/** Shows what is written, as text, and takes what the form says. */
export const CHAT_SCRIPT = `
const list = document.getElementById('chat');
const form = document.getElementById('say');
let last = '0';
async function read() {
  const answer = await fetch('chat?after=' + last).then((response) => response.ok ? response.json() : null).catch(() => null);
  for (const message of answer?.messages ?? []) {
    last = message.seq;
    const shown = [...list.children].find(({ dataset }) => dataset.id === message.id);
    if (message.deleted) { shown?.remove(); continue; }
    const item = document.createElement('li');
    item.dataset.id = message.id;
    const name = document.createElement('strong');
    name.textContent = message.author.name + (message.author.owner ? ' (the house)' : '');
    item.append(name, ' ', message.text);
    if (shown) shown.replaceWith(item);
    else list.append(item);
    list.scrollTop = list.scrollHeight;
  }
}
if (list) setInterval(read, 1000), read();
form?.addEventListener('submit', async (event) => {
  event.preventDefault();
  const { name, text } = Object.fromEntries(new FormData(form));
  const response = await fetch('chat', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ name, text }) });
  if (response.ok) form.elements.text.value = '';
  read();
});
`;
