import { isPublicAddress } from './network-address';
import { readPastedTarget } from './pasted-target';

describe('a network address', () => {
  for (const address of ['8.8.8.8', '2606:4700::1111', '::ffff:8.8.8.8', '64:ff9b::808:808']) {
    it(`${address} lies outside`, () => expect(isPublicAddress(address)).toBeTrue());
  }
  const INSIDE = [
    '127.0.0.1',
    '10.1.2.3',
    '172.16.0.1',
    '192.168.1.1',
    '169.254.169.254',
    '100.64.0.1',
    '0.0.0.0',
    '224.0.0.1',
    '255.255.255.255',
    '::1',
    '::',
    'fe80::1',
    'fd00::1',
    'ff02::1',
    '::ffff:127.0.0.1',
    '::ffff:10.0.0.1',
    '198.18.0.1',
    '198.19.255.255',
    '192.88.99.1',
    '192.0.2.1',
    'fec0::1',
    '64:ff9b::a00:1',
    '64:ff9b::7f00:1',
    '64:ff9b:1::808:808',
    '::10.0.0.1',
    '2002:a00:1::1',
    '2001:0:a00:1::1',
    '2001:db8::1',
    '100::1',
    'localhost',
    '',
  ];
  for (const address of INSIDE) {
    it(`${JSON.stringify(address)} does not`, () => expect(isPublicAddress(address)).toBeFalse());
  }
});

describe('what people paste', () => {
  for (const [address, key, wanted] of [
    ['rtmp://a.example/live', 'k', ['rtmp://a.example/live', 'k']],
    [' rtmp://a.example/live/ ', ' k ', ['rtmp://a.example/live', 'k']],
    ['rtmps://a.example/live/k?auth=1', '', ['rtmps://a.example/live', 'k?auth=1']],
    ['rtmps://a.example/live/k', 'k', ['rtmps://a.example/live', 'k']],
    ['rtmp://a.example:1936/app/room', 'k', ['rtmp://a.example:1936/app/room', 'k']],
    ['srt://a.example:9000', '', ['srt://a.example:9000', '']],
    ['srt://a.example:9000', ' #!::r=hall ', ['srt://a.example:9000', 'streamid=%23%21%3A%3Ar%3Dhall']],
    [
      'srt://a.example:9000?streamid=hall&passphrase=tenletters',
      '',
      ['srt://a.example:9000', 'streamid=hall&passphrase=tenletters'],
    ],
    [
      'srt://a.example:9000?passphrase=tenletters',
      'hall',
      ['srt://a.example:9000', 'streamid=hall&passphrase=tenletters'],
    ],
  ] as const) {
    it(`${JSON.stringify([address, key])} is read`, () =>
      expect(readPastedTarget(address, key)).toEqual({ ok: true, address: wanted[0], key: wanted[1] }));
  }
  for (const [address, key, field, problem] of [
    ['', 'k', 'address', 'empty'],
    ['a.example/live', 'k', 'address', 'not_an_address'],
    ['https://a.example/live', 'k', 'address', 'wrong_scheme'],
    ['rtmp://a.example', 'k', 'address', 'no_application'],
    ['rtmp://a.example//', 'k', 'address', 'no_application'],
    ['rtmp://a.example/live', '', 'key', 'key_missing'],
    ['rtmp://a.example/live', 'k k', 'key', 'key_blank'],
    ['rtmp://a b/live', 'k', 'address', 'not_an_address'],
    ['srt://a.example', 'k', 'address', 'port_missing'],
    ['srt://a.example:9000?mode=listener', 'k', 'address', 'mode_not_caller'],
    ['srt://a.example:9000', 'passphrase=short', 'key', 'passphrase_length'],
  ] as const) {
    it(`${JSON.stringify([address, key])} says what is wrong`, () =>
      expect(readPastedTarget(address, key)).toEqual({ ok: false, field, problem }));
  }
});
