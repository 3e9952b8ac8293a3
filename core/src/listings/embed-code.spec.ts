import { embedCode } from './embed-code';

describe('the embed code of a place', () => {
  it('is a frame around its player', () => {
    const code = embedCode('https://place.example/embed/7', 'A miller’s first hour');
    expect(code).toContain('<iframe src="https://place.example/embed/7" title="A miller’s first hour"');
    expect(code.endsWith('></iframe>')).toBeTrue();
  });

  it('lets nothing out of its quotes', () => {
    const code = embedCode('https://place.example/?a=1&b="x"', `"><script>alert('x')</script>`);
    expect(code.match(/</g)?.length).withContext('one tag, opened and closed').toBe(2);
    expect(code).toContain('?a=1&amp;b=&quot;x&quot;');
    expect(code).toContain('title="&quot;&gt;&lt;script&gt;alert(&#39;x&#39;)&lt;/script&gt;"');
  });
});
