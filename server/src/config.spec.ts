import { readConfig } from './config';

const good = {
  JUNCTA_DATABASE_URL: 'postgresql://a:b@127.0.0.1/c',
  JUNCTA_WEB_DIR: '.',
  JUNCTA_MIGRATIONS_DIR: '.',
};

describe('settings', () => {
  it('need an address of the database and two folders, and nothing else', () => {
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
