const SIZE = { width: 640, height: 360 };

/** What a team puts into a page of its own so that viewers watch there: HTML, of a player that a place serves at this address. */
export function embedCode(url: string, title: string): string {
  const { width, height } = SIZE;
  return `<iframe src="${escaped(url)}" title="${escaped(title)}" width="${width}" height="${height}" allow="fullscreen" style="border: 0; max-width: 100%"></iframe>`;
}

const escaped = (text: string): string =>
  text
    .replaceAll('&', '&amp;')
    .replaceAll('"', '&quot;')
    .replaceAll("'", '&#39;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;');
