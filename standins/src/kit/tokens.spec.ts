import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { Tokens } from './tokens';

const LIFE_MS = 1000;
const verifier = 'v'.repeat(43);
const challenge = createHash('sha256').update(verifier).digest('base64url');
const wish = { account: 'millrace', scopes: ['events'], widest: null };
const BACK = 'http://house.example/back';

describe('a place’s tokens', () => {
  it('are given for a code to whoever knows its verifier, at the same address, once and in time', () => {
    const tokens = new Tokens(LIFE_MS);
    const code = () => tokens.code(wish, BACK, challenge, 0);
    expect(tokens.exchange(code(), BACK, 'w'.repeat(43), 0)).toBeNull();
    expect(tokens.exchange(code(), 'http://elsewhere.example', verifier, 0)).toBeNull();
    expect(tokens.exchange(code(), BACK, verifier, 60_000)).toBeNull();
    const good = code();
    expect(tokens.exchange(good, BACK, verifier, 59_999)).not.toBeNull();
    expect(tokens.exchange(good, BACK, verifier, 59_999)).toBeNull();
    expect(tokens.exchange('made up', BACK, verifier, 0)).toBeNull();
  });

  it('last as long as they say, and no longer than the grant', () => {
    const tokens = new Tokens(LIFE_MS);
    const lasting = tokens.grant(wish);
    const short = tokens.refresh(lasting, 0)!;
    expect(short).toEqual(jasmine.objectContaining({ expiresInS: 1, scopes: ['events'] }));
    expect(tokens.grantOf(short.token, LIFE_MS - 1)?.account).toBe('millrace');
    expect(tokens.grantOf(short.token, LIFE_MS)).toBeNull();
    const other = tokens.refresh(lasting, 0)!;
    tokens.revokeAll();
    expect(tokens.grantOf(other.token, 1)).toBeNull();
    expect(tokens.refresh(lasting, 1)).toBeNull();
  });

  it('are good after a restart, where grants are kept', () => {
    const dir = mkdtempSync(path.join(tmpdir(), 'juncta-tokens-'));
    const file = path.join(dir, 'grants.json');
    const lasting = new Tokens(LIFE_MS, file).grant(wish);
    expect(new Tokens(LIFE_MS, file).refresh(lasting, 0)?.scopes).toEqual(['events']);
    rmSync(dir, { recursive: true });
  });
});
