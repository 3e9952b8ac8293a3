import { existsSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';

/** What each file imports: paths of files, in any order. */
export type Imports = ReadonlyMap<string, readonly string[]>;

const LEFT_OUT = new Set(['node_modules', 'dist', '.angular']);

function filesIn(dir: string): string[] {
  return readdirSync(dir, { withFileTypes: true }).flatMap((entry) => {
    if (LEFT_OUT.has(entry.name)) return [];
    const file = path.join(dir, entry.name);
    if (entry.isDirectory()) return filesIn(file);
    return /\.m?ts$/.test(entry.name) ? [file] : [];
  });
}

/**
 * Reads what the files under `dir` import of each other, by relative paths. Imports of types alone and those made while
 * running (`import()`) count too: whoever reads one of two files has to read the other.
 */
export function importsUnder(dir: string): Imports {
  const files = filesIn(dir);
  return new Map(
    files.map((file) => {
      const { importedFiles } = ts.preProcessFile(readFileSync(file, 'utf8'), true, true);
      const targets = importedFiles
        .filter(({ fileName }) => fileName.startsWith('.'))
        .map(({ fileName }) => path.resolve(path.dirname(file), fileName))
        .flatMap((base) => [base, `${base}.ts`, path.join(base, 'index.ts')])
        .filter((target) => /\.m?ts$/.test(target) && existsSync(target));
      return [file, targets] as const;
    }),
  );
}

/** Files that import each other in a circle: each circle once, each file in at most one (R. Tarjan, 1972). */
export function circlesOf(imports: Imports): string[][] {
  const seenAs = new Map<string, number>();
  const lowest = new Map<string, number>();
  const open: string[] = [];
  const circles: string[][] = [];

  function visit(file: string): number {
    const number = seenAs.size;
    seenAs.set(file, number);
    lowest.set(file, number);
    open.push(file);
    for (const target of imports.get(file) ?? []) {
      const reached = seenAs.has(target)
        ? open.includes(target)
          ? seenAs.get(target)!
          : number
        : visit(target);
      lowest.set(file, Math.min(lowest.get(file)!, reached));
    }
    if (lowest.get(file) === number) {
      const circle = open.splice(open.indexOf(file));
      if (circle.length > 1 || imports.get(file)?.includes(file)) circles.push(circle);
    }
    return lowest.get(file)!;
  }

  for (const file of imports.keys()) if (!seenAs.has(file)) visit(file);
  return circles;
}
