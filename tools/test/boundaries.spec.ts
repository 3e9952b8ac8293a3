import { ESLint, type Linter } from 'eslint';
import path from 'node:path';
import tseslint from 'typescript-eslint';
import { ROOT } from '../build/main';

/** The lint rule that keeps the parts apart, tried on imports that must not pass. */
describe('module boundaries', () => {
  // Without types, which this rule does not need: with them a file's text is taken from the disk in CI, not from here.
  const overrideConfig = tseslint.configs.disableTypeChecked as Linter.Config;
  const eslint = new ESLint({ cwd: ROOT, overrideConfig });
  const complaints = async (file: string, imported: string) => {
    const code = `import { x } from '${imported}';\nexport const y = x;\n`;
    // Any real file of the part will do: the rules go by its folder.
    const [result] = await eslint.lintText(code, { filePath: path.join(ROOT, file) });
    return result!.messages.filter(({ ruleId }) => ruleId === 'no-restricted-imports').length;
  };

  const refused: [string, string][] = [
    ['core/src/shows/phase.ts', '@juncta/contract/shows'],
    ['core/src/shows/phase.ts', 'node:fs'],
    ['core/src/shows/phase.ts', '@angular/core'],
    ['contract/src/shows/index.ts', '@juncta/server/app'],
    ['web/src/app/app.ts', '@juncta/server/app'],
    ['web/src/app/app.ts', '../../../server/src/app'],
    ['web/src/app/app.ts', 'node:path'],
    ['server/src/app.ts', '@juncta/standins/clock'],
    ['server/src/app.ts', '../../relay/src/main'],
    ['relay/src/main.ts', '@juncta/server/app'],
    ['runtime/src/log/log.ts', '@juncta/core/clock'],
    ['web/src/app/app.ts', '@juncta/runtime/log'],
    ['standins/src/clock/main.ts', '@juncta/core/clock'],
    ['standins/src/clock/main.ts', '@juncta/contract/clock'],
  ];
  for (const [file, imported] of refused) {
    it(`refuse ${imported} in ${file.split('/')[0]}`, async () => {
      expect(await complaints(file, imported)).toBe(1);
    }, 30_000);
  }

  it('let pass what a part may know', async () => {
    expect(await complaints('web/src/app/app.ts', '@juncta/core/shows')).toBe(0);
    expect(await complaints('server/src/app.ts', '@juncta/contract/shows')).toBe(0);
    expect(await complaints('core/src/shows/phase.ts', '../clock')).toBe(0);
  }, 30_000);
});
