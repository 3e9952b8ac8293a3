import { readOptions } from './options';

const read = (...args: string[]) => readOptions(args, '/project', '/here');

describe('start options', () => {
  it('are the demo on the usual port when nothing is said', () => {
    expect(read()).toEqual({
      port: 8420,
      dataDir: '/project/.data',
      fresh: false,
      demo: true,
      rescue: false,
      https: null,
    });
  });

  it('are taken from the command line, paths from where one stands', () => {
    const https = [process.execPath, process.execPath] as const;
    expect(
      read('--port', '9000', '--data', 'd', '--fresh', '--no-demo', '--rescue', '--https', ...https),
    ).toEqual({
      port: 9000,
      dataDir: '/here/d',
      fresh: true,
      demo: false,
      rescue: true,
      https: { cert: https[0], key: https[1] },
    });
  });

  const wrong: [string[], RegExp][] = [
    [['--port', '0'], /--port takes/],
    [['--port', '80a'], /--port takes/],
    [['--https', process.execPath], /two files/],
    [['--https', process.execPath, '/nowhere'], /no file \/nowhere/],
    [['--https', process.execPath, process.execPath, 'more'], /"more" is not an option/],
    [['--quick'], /Unknown option/],
    [['--rescue'], /--rescue is for a house without the demo/],
  ];
  for (const [args, message] of wrong) {
    it(`refuse ${args.join(' ')}`, () => expect(() => read(...args)).toThrowError(message));
  }
});
