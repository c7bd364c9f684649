import { csvFormatRows } from 'd3-dsv';
import type { ChartTable } from './chartTable.js';

/** What the look of a chart is made of. */
const DRAWN = ['fill', 'stroke', 'stroke-width', 'opacity', 'font-family', 'font-size', 'font-weight', 'text-anchor'];

/** A chart’s table as CSV (RFC 4180). */
export function csvOf({ columns, rows }: ChartTable): string {
  return csvFormatRows([[...columns], ...rows.map((cells) => cells.map(({ value }) => cellOf(value)))]);
}

/** So that a spreadsheet takes no text for a formula. */
function cellOf(value: string | number): string {
  return typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value);
}

/** A chart as a picture of its own: with the look that the page’s styles give it. */
export function svgOf(chart: SVGSVGElement): string {
  const copy = chart.cloneNode(true) as SVGSVGElement;
  const drawn = [chart, ...chart.querySelectorAll('*')];
  [copy, ...copy.querySelectorAll('*')].forEach((element, index) => {
    const style = getComputedStyle(drawn[index]!);
    for (const name of DRAWN) element.setAttribute(name, style.getPropertyValue(name));
    for (const name of ['class', 'href', 'role', 'tabindex']) element.removeAttribute(name);
  });
  return new XMLSerializer().serializeToString(copy);
}

export function saveCsv(name: string, table: ChartTable): void {
  save(name, csvOf(table), 'text/csv;charset=utf-8');
}

export function saveSvg(name: string, chart: SVGSVGElement): void {
  save(name, svgOf(chart), 'image/svg+xml');
}

function save(name: string, text: string, type: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([text], { type }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
