import { parse } from 'parse5';
import { planInstrumenting, instrument } from '@kiraku/core/tracking';
import { median, report } from './lib/report.js';

/* Instrumenting a message (plan and instrument) against only parsing it with the same parser, as MB/s of its HTML. */
const PAIRS = 15;
const paragraph = (n: number) =>
  `<p style="margin: 0 0 12px">Felt &amp; reed, part ${n}: <b>quiet</b> rooms, <a href="https://tallowreed.example/p/${n}?a=1&amp;b=2">the plan</a> and words enough to fill a line or two.</p>\n`;
const html = `<!doctype html><html><head><meta charset="utf-8"></head><body>${Array.from({ length: 400 }, (_, n) => paragraph(n)).join('')}</body></html>`;
const megabytes = Buffer.byteLength(html) / 1e6;

function speed(work: () => void): number {
  const began = performance.now();
  let rounds = 0;
  while (performance.now() - began < 400) {
    work();
    rounds += 1;
  }
  return (rounds * megabytes) / ((performance.now() - began) / 1000);
}

const onlyParse = () => void parse(html, { sourceCodeLocationInfo: true });
const parseAndInstrument = () => {
  const plan = planInstrumenting(html);
  instrument(plan, {
    imageUrl: 'https://track.example/i/AAAAAAAAAAAAAAAAAAAAAA.gif',
    linkUrls: plan.links.map(() => 'https://track.example/l/AAAAAAAAAAAAAAAAAAAAAA'),
  });
};
speed(onlyParse);
speed(parseAndInstrument);
const pairs = Array.from({ length: PAIRS }, () => ({
  parsed: speed(onlyParse),
  instrumented: speed(parseAndInstrument),
}));
report('parse', median(pairs.map((pair) => pair.parsed)), 'MB/s');
report('instrument', median(pairs.map((pair) => pair.instrumented)), 'MB/s');
report('weave_ratio', median(pairs.map((pair) => pair.instrumented / pair.parsed)), 'of only parsing (bar: 0.6)');
