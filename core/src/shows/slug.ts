const MOST_LETTERS = 60;
const ID_LETTERS = 8;

/**
 * A name for addresses: `the-proving-hour-1a2b3c4d`. The end comes from the id, so that two of one name differ and
 * nobody comes upon one by its name alone.
 */
export function slugOf(name: string, id: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, MOST_LETTERS)
    .replace(/^-+|-+$/g, '');
  return [plain, id.slice(0, ID_LETTERS)].filter(Boolean).join('-');
}
