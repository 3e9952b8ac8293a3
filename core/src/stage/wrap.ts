/** Breaks a text into lines at its blanks; a word that fits on no line is cut. What is left out is told by an ellipsis. */
export function wrap(text: string, most: number, fits: (line: string) => boolean): string[] {
  const words = text.split(/\s+/).filter((word) => word !== '');
  const lines: string[] = [];
  let line = '';
  while (words.length > 0) {
    const word = words.shift()!;
    const longer = line === '' ? word : `${line} ${word}`;
    if (fits(longer)) {
      line = longer;
      continue;
    }
    if (line === '') {
      const head = longestThatFits(word, fits);
      words.unshift(word.slice(head.length));
      line = head;
    } else words.unshift(word);
    if (lines.length === most - 1) return [...lines, withEllipsis(line, fits)];
    lines.push(line);
    line = '';
  }
  return line === '' ? lines : [...lines, line];
}

function longestThatFits(word: string, fits: (line: string) => boolean): string {
  const letters = Array.from(word);
  // At least one, or it would never end.
  let count = letters.length;
  while (count > 1 && !fits(letters.slice(0, count).join(''))) count = Math.floor(count * 0.9);
  return letters.slice(0, count).join('');
}

function withEllipsis(line: string, fits: (line: string) => boolean): string {
  const letters = Array.from(line);
  while (letters.length > 0 && !fits(`${letters.join('')}…`)) letters.pop();
  return `${letters.join('').trimEnd()}…`;
}
