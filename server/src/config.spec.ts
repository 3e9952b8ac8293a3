import { readConfig } from './config';

const good = {
  JUNCTA_DATABASE_URL: 'postgresql://a:b@127.0.0.1/c',
  JUNCTA_WEB_DIR: '.',
  JUNCTA_MIGRATIONS_DIR: '.',
  JUNCTA_SECRETS_KEY: Buffer.alloc(32).toString('base64'),
};

describe('settings', () => {
  it('need an address of the database, two folders and a key for secrets, and nothing else', () => {
    const config = readConfig(good);
    expect([config.port, config.demo, config.clockUrl, config.https]).toEqual([8420, false, null, null]);
  });

  const wrong: [string, NodeJS.ProcessEnv, RegExp][] = [
    [
      'a rehearsal clock in production',
      { NODE_ENV: 'production', JUNCTA_CLOCK_URL: 'http://127.0.0.1:1' },
      /JUNCTA_CLOCK_URL must not be set in production/,
    ],
    [
      'the demo in production',
      { NODE_ENV: 'production', JUNCTA_DEMO: '1' },
      /JUNCTA_DEMO must not be set in production/,
    ],
    [
      'a key for secrets of another size',
      { JUNCTA_SECRETS_KEY: 'short' },
      /JUNCTA_SECRETS_KEY must be 32 bytes/,
    ],
    [
      'a relay without its secret',
      { JUNCTA_RELAY_URL: 'http://127.0.0.1:1', JUNCTA_RELAY_UPLINK_PORT: '1' },
      /JUNCTA_RELAY_URL and JUNCTA_RELAY_SECRET/,
    ],
    [
      'a relay that no desk could reach',
      { JUNCTA_RELAY_URL: 'http://127.0.0.1:1', JUNCTA_RELAY_SECRET: 'x'.repeat(32) },
      /JUNCTA_RELAY_UPLINK_PORT or JUNCTA_RELAY_PUBLIC_URL/,
    ],
    [
      'a certificate without a key',
      { JUNCTA_HTTPS_CERT: 'package.json' },
      /JUNCTA_HTTPS_CERT and JUNCTA_HTTPS_KEY/,
    ],
    ['a folder that is not there', { JUNCTA_WEB_DIR: '/nowhere' }, /JUNCTA_WEB_DIR names \/nowhere/],
    ['a port that is none', { JUNCTA_PORT: '70000' }, /JUNCTA_PORT/],
    ['another kind of database', { JUNCTA_DATABASE_URL: 'mysql://x' }, /must be a postgresql:\/\/ address/],
  ];
  for (const [what, change, message] of wrong) {
    it(`refuse ${what}`, () => expect(() => readConfig({ ...good, ...change })).toThrowError(message));
  }
});
