/** @jest-environment jsdom */
import { csvOf, svgOf } from '../src/shared/ui/chartFiles.js';

test('a table is exported with its columns, and what needs quotes has them', () => {
  const rows = [
    [{ value: '2026-11-23' }, { value: 12, to: '/sent' }],
    [{ value: 'a "b", c' }, { value: 0 }],
  ];
  expect(csvOf({ columns: ['Week of', 'Sent'], rows })).toBe('Week of,Sent\n2026-11-23,12\n"a ""b"", c",0');
});

test('a text that a spreadsheet would take for a formula is not exported as one; a number stays one', () => {
  const cells = ['=1+1', '+49 30 1', '-2', '@here', '\tTab', 'plain', -2].map((value) => ({ value }));
  expect(csvOf({ columns: ['a'], rows: [cells] }).split('\n')[1]).toBe("'=1+1,'+49 30 1,'-2,'@here,'\tTab,plain,-2");
});

test('a picture of a chart needs nothing of the page: its look is its own, and it leads nowhere', () => {
  document.body.innerHTML =
    '<style>.bar { fill: rgb(1, 2, 3); }</style>' +
    '<svg role="list" width="10"><a href="/sent" tabindex="-1"><rect class="bar" width="5"><title>12 messages</title></rect></a></svg>';
  const picture = new DOMParser().parseFromString(svgOf(document.querySelector('svg')!), 'image/svg+xml');
  const bar = picture.querySelector('rect')!;
  expect(bar.getAttribute('fill')).toBe('rgb(1, 2, 3)');
  expect(bar.getAttribute('width')).toBe('5');
  expect(bar.textContent).toBe('12 messages');
  expect(picture.documentElement.namespaceURI).toBe('http://www.w3.org/2000/svg');
  for (const name of ['class', 'href', 'tabindex', 'role']) expect(picture.querySelector(`[${name}]`)).toBeNull();
  expect(document.querySelector('.bar')).not.toBeNull();
});
