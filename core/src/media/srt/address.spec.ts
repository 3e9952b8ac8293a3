import fc from 'fast-check';
import { readSrtKey, readSrtTarget, writeSrtKey } from './address';

describe('an address of SRT', () => {
  it('stands apart from what lets a stream in', () => {
    const pasted =
      ' srt://ingest.example:9000?mode=caller&streamid=%23!::r=hall,m=publish&passphrase=ten letters ok&latency=350 ';
    expect(readSrtTarget(pasted)).toEqual({
      ok: true,
      address: {
        host: 'ingest.example',
        port: 9000,
        latencyMs: 350,
        url: 'srt://ingest.example:9000?latency=350',
      },
      key: { streamId: '#!::r=hall,m=publish', passphrase: 'ten letters ok' },
    });
  });
  it('has a latency of ours where it names none, and takes addresses of version 6', () => {
    const target = readSrtTarget('srt://[2606:4700::1111]:7001');
    expect(target).toEqual({
      ok: true,
      address: { host: '2606:4700::1111', port: 7001, latencyMs: 200, url: 'srt://[2606:4700::1111]:7001' },
      key: { streamId: '', passphrase: '' },
    });
  });
  const WRONG = [
    ['srt://ingest.example', 'port_missing'],
    ['srt://ingest.example:0', 'port_missing'],
    ['srt://ingest.example:70000', 'port_missing'],
    ['srt://:9000', 'not_an_address'],
    ['srt://who@ingest.example:9000', 'not_an_address'],
    ['rtmp://ingest.example:9000', 'not_an_address'],
    ['srt://ingest.example:9000?mode=listener', 'mode_not_caller'],
    ['srt://ingest.example:9000?mode=rendezvous', 'mode_not_caller'],
    ['srt://ingest.example:9000?latency=200000', 'latency_range'],
    ['srt://ingest.example:9000?latency=soon', 'latency_range'],
    ['srt://ingest.example:9000?passphrase=short', 'passphrase_length'],
    ['srt://ingest.example:9000?streamid=hall%0Amode=listener', 'key_control'],
    [`srt://ingest.example:9000?streamid=${'a'.repeat(513)}`, 'stream_id_length'],
    [`srt://ingest.example:9000?streamid=${'ä'.repeat(257)}`, 'stream_id_length'],
  ] as const;
  for (const [text, problem] of WRONG) {
    it(`${text.slice(0, 60)} is none: ${problem}`, () =>
      expect(readSrtTarget(text)).toEqual(jasmine.objectContaining({ ok: false, problem })));
  }
});

describe('a key of SRT', () => {
  it('comes back as it was written', () =>
    fc.assert(
      fc.property(fc.string(), fc.string(), (streamId, passphrase) => {
        const text = writeSrtKey({ streamId, passphrase });
        expect(readSrtKey(text)).toEqual({ streamId, passphrase });
      }),
    ));
  it('that a person typed is a stream id, whatever is in it', () =>
    expect(readSrtKey('#!::r=live,m=publish')).toEqual({ streamId: '#!::r=live,m=publish', passphrase: '' }));
});
