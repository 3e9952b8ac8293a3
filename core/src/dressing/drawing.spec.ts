import { findDrawingProblem, isDrawing, type DrawingProblem } from './drawing';

const svg = (inside: string, head = '') => `${head}<svg xmlns="http://www.w3.org/2000/svg">${inside}</svg>`;

describe('a drawing that somebody sends', () => {
  const table: [string, string, DrawingProblem | null][] = [
    ['a shape', svg('<path d="M0 0h9v9z" fill="#b4532a"/>'), null],
    ['words that only speak of it', svg('<text>a script on fire = bright</text>'), null],
    ['a part that is used again', svg('<use href="#leaf"/><rect fill="url(#shade)"/>'), null],
    ['pixels it brings along', svg('<image href="data:image/png;base64,iVBO"/>'), null],
    ['a script', svg('<script>alert(1)</script>'), 'runs'],
    ['a script of a namespace', svg('<svg:script>alert(1)</svg:script>'), 'runs'],
    ['a handler', svg('<rect onload="alert(1)"/>'), 'runs'],
    ['a handler after a slash', svg('<rect/onclick="alert(1)"/>'), 'runs'],
    ['a page within', svg('<foreignObject><b>x</b></foreignObject>'), 'runs'],
    ['an address that runs', svg('<a href="javascript:alert(1)"><rect/></a>'), 'runs'],
    ['one that is written in numbers', svg('<a href="java&#115;cript:alert(1)"><rect/></a>'), 'runs'],
    ['entities', svg('&x;', '<!DOCTYPE svg [<!ENTITY x "y">]>'), 'runs'],
    ['a picture from elsewhere', svg('<image href="https://elsewhere.example/p.png"/>'), 'fetches'],
    ['one in the older way', svg("<image xlink:href='//elsewhere.example/p.png'/>"), 'fetches'],
    ['a file of this machine', svg('<image href="file:///etc/hostname"/>'), 'fetches'],
    ['a drawing within', svg('<image href="data:image/svg+xml;base64,PHN2"/>'), 'fetches'],
    ['a filter from elsewhere', svg('<rect fill="url(https://elsewhere.example/#a)"/>'), 'fetches'],
    ['a style from elsewhere', svg('<style>@import "a.css";</style>'), 'fetches'],
  ];
  for (const [what, drawing, problem] of table)
    it(`${what}: ${problem ?? 'is taken'}`, () => expect(findDrawingProblem(drawing)).toBe(problem));

  it('is known by how it begins', () => {
    for (const [head, is] of [
      [svg(''), true],
      [svg('', '<?xml version="1.0"?>\n<!-- a mill -->\n'), true],
      [svg('', '\uFEFF'), true],
      ['<html><svg></svg></html>', false],
      ['\x89PNG', false],
      ['<svgx>', false],
    ] as const)
      expect(isDrawing(head)).withContext(head).toBe(is);
  });
});
