import { isOrdinary } from './ordinary';

describe('isOrdinary', () => {
  const table: [string, boolean][] = [
    ['Hello everybody and greetings from the coast', true],
    ['GOOD evening to all of you out there', true],
    ['Guten Abend zusammen aus dem Norden', true],
    ['When does it begin tonight?', true],
    ['¿Cuándo empieza esto hoy? 🙂', true],
    ['ist da kein Ton？', true],
    ['hello, come over to better-bread.example/now', false],
    ['want more bread? visit better-bread.example', false],
    ['hi all, ask @breadking for the real thing', false],
    ['join the real baking channel and leave this boring show', false],
    ['the crust is good, the crumb is not', false],
    ['', false],
  ];
  for (const [text, is] of table)
    it(`${text || 'nothing'}: ${is}`, () => {
      expect(isOrdinary(text)).toBe(is);
    });
});
