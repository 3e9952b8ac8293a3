import { SecretBox } from './secret-box';

describe('SecretBox', () => {
  const box = new SecretBox(Buffer.alloc(32, 1));

  it('gives back what was locked, and nobody sees it in between', () => {
    const locked = box.lock('stream_key_äöü', 'a');
    expect(locked).not.toContain('stream_key');
    expect(box.unlock(locked, 'a')).toBe('stream_key_äöü');
    expect(box.lock('stream_key_äöü', 'a')).withContext('never the same twice').not.toBe(locked);
  });

  it('opens nothing that was locked for something else, by another key, or changed', () => {
    const locked = box.lock('secret', 'a');
    const changed = Buffer.from(locked, 'base64');
    changed[changed.length - 1]! ^= 1;
    expect(() => box.unlock(locked, 'b')).toThrow();
    expect(() => new SecretBox(Buffer.alloc(32, 2)).unlock(locked, 'a')).toThrow();
    expect(() => box.unlock(changed.toString('base64'), 'a')).toThrow();
  });

  it('wants a key of its size', () => expect(() => new SecretBox(Buffer.alloc(16))).toThrowError(RangeError));
});
