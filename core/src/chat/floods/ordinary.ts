import { foldedWords } from '../moderation/fold';

/** With these people greet, as they are compared; in the languages that our viewers write most. */
const GREETINGS = new Set(
  foldedWords(
    'hello hi hey hiya greetings welcome good hallo moin servus guten gruezi gruss bonjour bonsoir salut coucou hola buenas ' +
      'buenos ola boa bom ciao buongiorno buonasera salve hej hei dobry czesc witam ahoj merhaba',
  ),
);
const LEADS_ELSEWHERE = /https?:|www\.|[\p{L}\p{N}-]+\.\p{L}{2,}(?:\W|$)|@[\p{L}\p{N}]/u;
const ASKS = /[?？؟]['"”’)\s\p{Extended_Pictographic}]*$/u;

/**
 * Whether a text is what many write at once who have nothing to do with each other, each once: a greeting or a question.
 * One that leads elsewhere is none.
 */
export function isOrdinary(text: string): boolean {
  if (LEADS_ELSEWHERE.test(text)) return false;
  return ASKS.test(text) || GREETINGS.has(foldedWords(text)[0] ?? '');
}
