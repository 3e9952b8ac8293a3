import { chmodSync, mkdirSync, mkdtempSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { accountOf, handOver, unprivileged } from './account';

describe('the account of what faces the network', () => {
  let dir: string;
  const port = 8443;
  beforeEach(() => {
    dir = mkdtempSync(path.join('/tmp', 'juncta-account-'));
    chmodSync(dir, 0o755);
  });
  afterEach(() => rmSync(dir, { recursive: true }));

  if (process.getuid?.() !== 0) {
    it('is that of whoever starts it', () =>
      expect(unprivileged({ reads: [], enters: [], port })).toEqual({ account: null, said: null }));
    return;
  }

  describe('where root starts it', () => {
    it('is one that owns nothing', () => {
      const file = path.join(dir, 'built.mjs');
      writeFileSync(file, '', { mode: 0o644 });
      const { account, said } = unprivileged({ reads: [file], enters: [dir], port });
      expect(account).toEqual(accountOf('nobody'));
      expect(said).toContain('runs as "nobody"');
    });

    it('is root’s where it could not read, enter or listen, and that is said', () => {
      const key = path.join(dir, 'key.pem');
      writeFileSync(key, '', { mode: 0o600 });
      const closed = path.join(dir, 'closed');
      mkdirSync(closed, { mode: 0o700 });
      const cases: [Parameters<typeof unprivileged>[0], RegExp][] = [
        [{ reads: [key], enters: [], port }, /may not read .*key\.pem/],
        [{ reads: [], enters: [closed], port }, /may not enter .*closed/],
        [{ reads: [], enters: [], port: 443 }, /port 443 is root's/],
      ];
      for (const [needs, said] of cases) {
        const chosen = unprivileged(needs);
        expect(chosen.account).toBeNull();
        expect(chosen.said).toMatch(said);
      }
    });

    it('is given what lies in a folder, and nothing that a link in it points to', () => {
      const [inside, outside] = [path.join(dir, 'relay'), path.join(dir, 'outside')];
      mkdirSync(inside);
      writeFileSync(outside, '');
      writeFileSync(path.join(inside, 'lane'), '');
      symlinkSync(outside, path.join(inside, 'link'));
      const nobody = accountOf('nobody');
      handOver(inside, nobody);
      expect(statSync(path.join(inside, 'lane')).uid).toBe(nobody.uid);
      expect(statSync(outside).uid).toBe(0);
    });
  });
});
