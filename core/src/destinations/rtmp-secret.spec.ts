import fc from 'fast-check';
import { hideQuery, openIngest } from './rtmp-secret';

describe('the secret of an address', () => {
  it('is its key and all behind the question mark, and neither is left in what is shown', () => {
    const ingest = { address: 'rtmps://a.example/live?token=4711&v=2', key: 'k?auth=1' };
    const hidden = hideQuery(ingest);
    expect(hidden).toEqual({ address: 'rtmps://a.example/live', secret: '?token=4711&v=2 k?auth=1' });
    expect(openIngest(hidden.address, hidden.secret)).toEqual(ingest);
  });

  it('is the key alone where the address has no query, and an address of SRT keeps its latency', () => {
    for (const ingest of [
      { address: 'rtmp://a.example/live', key: 'k' },
      { address: 'srt://a.example:9000?latency=400', key: 'streamid=hall' },
    ]) {
      const hidden = hideQuery(ingest);
      expect(hidden).toEqual({ address: ingest.address, secret: ingest.key });
      expect(openIngest(hidden.address, hidden.secret)).toEqual(ingest);
    }
  });

  it('comes back as it was, whatever it is', () => {
    const word = fc.string({ minLength: 1 }).filter((text) => !/\s/.test(text));
    fc.assert(
      fc.property(fc.option(word), word, (query, key) => {
        const ingest = { address: `rtmp://a.example/live${query === null ? '' : `?${query}`}`, key };
        const { address, secret } = hideQuery(ingest);
        expect(openIngest(address, secret)).toEqual(ingest);
        expect(address).toBe('rtmp://a.example/live');
      }),
    );
  });
});
