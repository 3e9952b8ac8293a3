import { tmpdir } from 'node:os';
import { readHealth } from './health';

describe('the relay’s health', () => {
  it('is up while its folder has room', async () => {
    expect(await readHealth(tmpdir())).toEqual(jasmine.objectContaining({ up: true, parts: { disk: 'up' } }));
  });

  it('is down when its folder is gone', async () => {
    expect(await readHealth('/nowhere/at/all')).toEqual(
      jasmine.objectContaining({ up: false, parts: { disk: 'down' } }),
    );
  });
});
