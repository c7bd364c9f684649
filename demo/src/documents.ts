import { readFile } from 'node:fs/promises';
import PDFDocument from 'pdfkit';
import pptxgen from 'pptxgenjs';
import writeXlsxFile from 'write-excel-file/node';

/** A document of the story, made when the story is. */
export interface StoryDocument {
  name: string;
  bytes(): Promise<Buffer>;
}

const INK = '#1e2b37';
const SOFT = '#5c6975';
const PAPER = '#fbf9f4';
const FELT = ['#2a4a7b', '#b3352c', '#9a6b15', '#3f5b46', '#7f93ae', '#bf9a52'];

interface ProposalPage {
  title: string;
  text: string;
  /** Panels on the wall that is drawn, in columns and rows. */
  wall?: [columns: number, rows: number];
  /** Absorption by octave band, from 125 Hz up. */
  absorption?: number[];
  /** What, how many, price of one. */
  prices?: [what: string, number: number, price: number][];
}

const BANDS = [125, 250, 500, 1000, 2000, 4000];

const PROPOSAL: readonly ProposalPage[] = [
  {
    title: 'Panels for the reading room',
    text: 'A proposal for the Lindqvist Library Trust\n\nTallow & Reed, felt for quiet rooms\nInes Valdaro',
    wall: [6, 3],
  },
  {
    title: 'What we heard',
    text: 'With twelve readers in the room, a chair that is moved is heard at every table. The vaulted ceiling throws it back: speech at the desk can be followed word by word at the window, nine metres away. Reverberation at 500 Hz lasts 1.9 seconds; for reading, 0.8 is pleasant.',
  },
  {
    title: 'First layout: the north wall',
    text: 'Eighteen panels of 60 by 60 centimetres between the racks and the cornice. They take up sound where it arrives first, and leave the ceiling as it is.',
    wall: [6, 3],
  },
  {
    title: 'Second layout: wall and gallery',
    text: 'Twelve panels on the north wall, and sixteen under the gallery. It is quieter by a third than the first layout, above all at the tables along the windows.',
    wall: [7, 4],
  },
  {
    title: 'What the felt takes up',
    text: 'Measured on the 24 mm felt with 40 mm of air behind it. Speech lies mostly between 500 and 2000 Hz.',
    absorption: [0.18, 0.46, 0.88, 0.97, 0.95, 0.92],
  },
  {
    title: 'Prices',
    text: 'Fitting and delivery included. The prices hold until the end of the year.',
    prices: [
      ['Panels 60 × 60 cm, 24 mm, undyed', 18, 94],
      ['Panels 60 × 60 cm, 24 mm, dyed', 10, 112],
      ['Rails and fittings', 28, 9],
      ['Two days of fitting', 2, 480],
    ],
  },
  {
    title: 'How it is put up',
    text: 'Each panel hangs on a rail of ash, and is taken down without tools. Nothing is drilled into the cornice. We fit on two Mondays, when the reading room is closed; the dust stays outside.',
    wall: [5, 2],
  },
  {
    title: 'What comes next',
    text: 'Hold the samples in your hands, and hear them: the Brennan Street library would be glad to show you round. If you decide by the middle of the month, the panels hang before the holidays.',
  },
];

function pdf(pages: readonly ProposalPage[]): Promise<Buffer> {
  const document = new PDFDocument({
    size: 'A4',
    margin: 60,
    autoFirstPage: false,
    info: { Title: 'Panels for the reading room', Author: 'Ines Valdaro' },
    lang: 'en',
  });
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  pages.forEach((page, index) => draw(document.addPage(), page, index + 1));
  document.end();
  return new Promise((resolve) => document.on('end', () => resolve(Buffer.concat(chunks))));
}

function draw(document: PDFKit.PDFDocument, { title, text, wall, absorption, prices }: ProposalPage, number: number) {
  document.rect(0, 0, 595, 842).fill(PAPER);
  document.fillColor(INK).font('Times-Roman').fontSize(30).text(title, 60, 80, { width: 475 });
  document.font('Helvetica').fontSize(12).fillColor(INK).text(text, 60, 140, { width: 440, lineGap: 5 });
  if (wall) drawWall(document, wall);
  if (absorption) drawAbsorption(document, absorption);
  if (prices) drawPrices(document, prices);
  // At the foot, where text would otherwise begin another page.
  document.page.margins.bottom = 0;
  document.fontSize(9).fillColor(SOFT).text(`Tallow & Reed · ${number}`, 60, 800);
}

function drawWall(document: PDFKit.PDFDocument, [columns, rows]: [number, number]) {
  const side = Math.min(430 / columns, 380 / rows) - 8;
  for (let row = 0; row < rows; row += 1)
    for (let column = 0; column < columns; column += 1)
      document
        .rect(60 + column * (side + 8), 300 + row * (side + 8), side, side)
        .fill(FELT[(row * 5 + column * 3) % FELT.length]!);
  document
    .moveTo(60, 308 + rows * (side + 8))
    .lineTo(535, 308 + rows * (side + 8))
    .lineWidth(1)
    .stroke(INK);
}

function drawAbsorption(document: PDFKit.PDFDocument, values: number[]) {
  const base = 620;
  values.forEach((value, index) => {
    const x = 80 + index * 74;
    document.rect(x, base - value * 300, 46, value * 300).fill(FELT[0]!);
    document
      .fontSize(10)
      .fillColor(INK)
      .text(value.toFixed(2), x, base - value * 300 - 16, { width: 46, align: 'center' });
    document.fillColor(SOFT).text(`${BANDS[index]} Hz`, x - 10, base + 8, { width: 66, align: 'center' });
  });
  document.moveTo(60, base).lineTo(535, base).lineWidth(1).stroke(INK);
}

function drawPrices(document: PDFKit.PDFDocument, prices: NonNullable<ProposalPage['prices']>) {
  let y = 220;
  const line = (what: string, number: string, sum: string, font = 'Helvetica') => {
    document.font(font).fontSize(12).fillColor(INK).text(what, 60, y, { width: 300 });
    document.text(number, 350, y, { width: 60, align: 'right' }).text(sum, 430, y, { width: 105, align: 'right' });
    y += 34;
    document
      .moveTo(60, y - 10)
      .lineTo(535, y - 10)
      .lineWidth(0.5)
      .stroke('#e5e0d5');
  };
  for (const [what, number, price] of prices) line(what, String(number), (number * price).toLocaleString('en'));
  const sum = prices.reduce((so, [, number, price]) => so + number * price, 0);
  line('All together', '', sum.toLocaleString('en'), 'Helvetica-Bold');
}

const PRICES: [felt: string, thickness: number, price: number][] = [
  ['Undyed grey', 12, 118],
  ['Undyed grey', 24, 196],
  ['Dyed, any colour of the card', 12, 142],
  ['Dyed, any colour of the card', 24, 231],
  ['Linen curtain, lined with felt', 6, 164],
  ['Screen on an ash frame', 24, 310],
];

function priceSheet(): Promise<Buffer> {
  const head = ['Felt', 'Thickness, mm', 'Price per m²'].map((value) => ({ value, fontWeight: 'bold' as const }));
  const rows = PRICES.map((row) => row.map((value) => ({ value })));
  return writeXlsxFile([head, ...rows], { columns: [{ width: 34 }, { width: 14 }, { width: 14 }] }).toBuffer();
}

const SLIDES: [title: string, lines: string[]][] = [
  ['Quieter rooms', ['Felt panels and curtains, made by hand', 'Tallow & Reed']],
  ['Why rooms are loud', ['Hard walls give sound back', 'Everybody speaks up, and so does everybody else']],
  [
    'What felt does',
    ['It takes up speech, and leaves the room its voice', 'Twenty-four millimetres are enough for most'],
  ],
  ['Three cafés', ['From 1.4 to 0.7 seconds, with four panels each', 'Fitted on the one day they are closed']],
  ['What it costs', ['From 94 a panel, fitting included', 'A room of forty square metres: a week’s takings']],
  ['Shall we listen together?', ['A morning, a sample, and your room']],
];

async function slides(): Promise<Buffer> {
  // Its types are those of its other form, in which the class is a property.
  const show = new (pptxgen as unknown as typeof pptxgen.default)();
  for (const [title, lines] of SLIDES) {
    const slide = show.addSlide();
    slide.background = { color: 'FBF9F4' };
    slide.addText(title, { x: 0.6, y: 0.7, w: 8.5, h: 1, fontSize: 36, fontFace: 'Georgia', color: '1E2B37' });
    lines.forEach((text, index) =>
      slide.addText(text, { x: 0.6, y: 2 + index * 0.8, w: 8.5, h: 0.7, fontSize: 20, color: '5C6975' }),
    );
  }
  return (await show.write({ outputType: 'nodebuffer' })) as Buffer;
}

const asset = (name: string) => () => readFile(new URL(`../assets/${name}`, import.meta.url));

/** What Ines sends along. */
export const DOCUMENTS = {
  proposal: { name: 'Panels for the reading room.pdf', bytes: () => pdf(PROPOSAL) },
  /** As it was before the second layout was added. */
  firstProposal: {
    name: 'Panels for the reading room.pdf',
    bytes: () => pdf(PROPOSAL.filter(({ title }) => !title.startsWith('Second'))),
  },
  prices: { name: 'Prices, autumn.xlsx', bytes: priceSheet },
  colours: { name: 'Colour card, winter.jpg', bytes: asset('colour-card.jpg') },
  film: { name: 'Putting up panels.webm', bytes: asset('putting-up-panels.webm') },
  slides: { name: 'Quieter rooms.pptx', bytes: slides },
} satisfies Record<string, StoryDocument>;

export type DocumentName = keyof typeof DOCUMENTS;
