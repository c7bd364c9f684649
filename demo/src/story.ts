/** The made-up people, companies and messages of the demo. All addresses end in .example. */
export interface StoryPerson {
  name: string;
  address: string;
  company: string;
  /** Ines’s own words for them. */
  tags: string[];
}

const COMPANIES: [company: string, domain: string, people: string[], tag?: string][] = [
  ['Lindqvist Library Trust', 'lindqvist.example', ['Marit Oakes', 'Jun Falk'], 'library'],
  ['Café Ostinato', 'ostinato.example', ['Tomas Berane'], 'café'],
  ['Brightwater Dental', 'brightwater.example', ['Rafe Linden'], 'clinic'],
  ['Mirefield Clinic', 'mirefield.example', ['Hana Iwase', 'Ben Okoro'], 'clinic'],
  ['Atelier Noor', 'ateliernoor.example', ['Noor Sabet']],
  ['Studio Kettle Architects', 'studiokettle.example', ['Paulo Reyes', 'Astrid Vane'], 'architect'],
  ['Café Zwirn', 'zwirn.example', ['Ilse Marten'], 'café'],
  ['Ek & Daughters Bakery', 'ekdaughters.example', ['Jonas Ek']],
  ['Hollow Hill School', 'hollowhill.example', ['Gwen Adair', 'Piet Amsel'], 'school'],
  ['Farr Montessori', 'farrmontessori.example', ['Lotte Farr'], 'school'],
  ['Saltmarsh Music School', 'saltmarsh.example', ['Iris Holm'], 'school'],
  ['Orchard Street Library', 'orchardstreet.example', ['Teo Marchetti', 'Wanda Brill'], 'library'],
  ['Pell & Sons Architects', 'pellsons.example', ['Dov Pell'], 'architect'],
  ['The Quiet Spoon', 'quietspoon.example', ['Mina Sorrel'], 'café'],
  ['Northlight Physiotherapy', 'northlight.example', ['Oskar Wren'], 'clinic'],
  ['Fernhall Care Home', 'fernhall.example', ['Bea Lindholm']],
  ['Atrium Workrooms', 'atriumworkrooms.example', ['Caspar Dunn', 'Yuki Tamm']],
  ['Little Lantern Nursery', 'littlelantern.example', ['Sanne Kuyper']],
  ['Harbour Radio', 'harbourradio.example', ['Levi Strand']],
  ['Vesper Hotel', 'vesperhotel.example', ['Aurelia Finch'], 'hotel'],
  ['Moss & Mortar', 'mossmortar.example', ['Edda Roe']],
  ['Tiller Courtrooms', 'tillercourts.example', ['Henrik Baar']],
];

export const PEOPLE: readonly StoryPerson[] = COMPANIES.flatMap(([company, domain, people, tag]) =>
  people.map((name) => ({
    name,
    company,
    address: `${name.split(' ')[0]!.toLowerCase()}@${domain}`,
    tags: tag === undefined ? [] : [tag],
  })),
);

export function person(name: string): StoryPerson {
  const found = PEOPLE.find((one) => one.name === name);
  if (!found) throw new Error(`Nobody in the story is called ${name}`);
  return found;
}

/** Cafés to which the same offer goes, each by itself: as a sheet with its columns. */
export const CAFES: readonly { name: string; address: string; company: string; seats: string }[] = [
  ['Wanda Orchard', 'Orchard Street Café', 'orchardcafe.example', '40'],
  ['Teo Park', 'Bakery on the Corner', 'cornerbakery.example', '16'],
  ['Imke Dorn', 'Café Halbmond', 'halbmond.example', '55'],
  ['Ruben Sole', 'The Long Counter', 'longcounter.example', ''],
  ['Cleo Hart', 'Teahouse at the Mill', 'millteahouse.example', '28'],
  ['Anton Vesely', 'Café Vltava', 'vltavacafe.example', '70'],
  ['Maud Ferris', 'Ferris & Plum', 'ferrisplum.example', '34'],
  ['Nils Aaker', 'Harbour Steps Coffee', 'harboursteps.example', '22'],
  ['Pia Lorch', 'Café Lorch', 'lorch.example', '48'],
  ['Otto Green', 'The Green Cup', 'greencup.example', ''],
  ['Salma Idris', 'Minaret Tea Rooms', 'minarettea.example', '60'],
  ['Finn Harper', 'Harper’s', 'harpers.example', '18'],
  ['Elsa Winter', 'Café Winter', 'cafewinter.example', '36'],
  ['Jory Penrose', 'Penrose Bakehouse', 'penrosebakehouse.example', '20'],
].map(([name, company, domain, seats]) => ({
  ...{ name: name!, company: company!, seats: seats! },
  address: `${name!.split(' ')[0]!.toLowerCase()}@${domain}`,
}));

export interface StoryMessage {
  subject: string;
  /** Paragraphs of HTML, between the salutation and the signature. */
  paragraphs: string[];
  /** The template that it was begun from, by its name. */
  template?: string;
}

const link = (path: string, words: string) => `<a href="https://tallowreed.example/${path}">${words}</a>`;

/** What Ines writes; each can go to anybody. */
export const MESSAGES = {
  readingRoom: {
    subject: 'Panels for the reading room',
    paragraphs: [
      `thank you for walking me through the reading room. As promised, here is ${link('proposals/reading-room', 'the proposal')} with two layouts, and the ${link('felt/24/data', 'measured absorption')} of the 24 mm felt.`,
      `If you would like to hear it before deciding, the ${link('places/brennan-street', 'Brennan Street library')} fitted the same panels in spring and would be glad to show you round.`,
      'Would Thursday suit you for a short call?',
    ],
  },
  lunchHours: {
    subject: 'Quieter lunch hours',
    paragraphs: [
      `your guests told me that they like everything about lunch but the noise. Four ceiling panels would bring it down to a level where two people can talk: see the ${link('plans/fitting', 'fitting plan')}.`,
      'We can fit them on a Monday, when you are closed.',
    ],
  },
  price: {
    subject: 'Price for 40 m²',
    paragraphs: [
      `the felt you chose comes to the sum in the ${link('prices/autumn', 'price list')}, fitting included. It holds until the end of the year.`,
      'Shall I reserve the grey?',
    ],
  },
  curtains: {
    subject: 'Curtains, revised offer',
    paragraphs: [
      `I have taken the second window out, as you wished. The ${link('offers/curtains', 'revised offer')} is a good deal lower now.`,
      'The workshop could begin next week.',
    ],
  },
  colourCard: {
    subject: 'Felt colours, winter card',
    paragraphs: [
      `the ${link('colours/winter', 'winter card')} has six new tones. I thought of your studio at once when I saw the moss.`,
      'Tell me which ones you would like to hold in your hands, and I shall post them.',
    ],
  },
  samples: {
    subject: 'Samples are on their way',
    paragraphs: [
      `five pieces left the workshop today. Lay them on a table and clap: that says more than ${link('felt/24/data', 'the data')}.`,
    ],
  },
  visit: {
    subject: 'A short visit in December?',
    template: 'First email',
    paragraphs: [
      'I shall be in your street on the second Tuesday of December, and would like to see your room.',
      `Until then, this is ${link('work/cafes', 'what we did for other cafés')}.`,
    ],
  },
  question: {
    subject: 'Following up on your question',
    paragraphs: [
      `yes, the felt may be vacuumed, and it is ${link('felt/care', 'easily cared for')}. It does not mind flour either.`,
    ],
  },
  assemblyHall: {
    subject: 'Assembly hall acoustics',
    template: 'First email',
    paragraphs: [
      `with the hall full, the reverberation is twice what speech allows. ${link('plans/hall', 'Three ways')} to halve it, from curtains to a whole ceiling.`,
      'Which budget year would it fall into?',
    ],
  },
  waitingRoom: {
    subject: 'Sound in the waiting room',
    template: 'First email',
    paragraphs: [
      `people in a waiting room hear what is said at the desk. A screen of felt between the two is ${link('felt/screens', 'a small thing')} with a large effect.`,
    ],
  },
  newCard: {
    subject: 'Our new colour card',
    template: 'First email',
    paragraphs: [`here is ${link('colours/winter', 'our new colour card')}, with the linen curtains on its back.`],
  },
  thanks: {
    subject: 'Thank you for yesterday',
    template: 'After a visit',
    paragraphs: [
      `it was good to see how you use the room. I noted three walls; ${link('notes/visit', 'my sketch')} shows which.`,
      'I shall send numbers by the end of the week.',
    ],
  },
} satisfies Record<string, StoryMessage>;

export type MessageName = keyof typeof MESSAGES;

export function messageHtml(message: StoryMessage, firstNames: string[]): string {
  const salutation = firstNames.map((name, index) => `${index === 0 ? 'Dear' : 'dear'} ${name}`).join(', ');
  const paragraphs = [`${salutation},`, ...message.paragraphs, 'Warm regards,<br>Ines'];
  return paragraphs.map((paragraph) => `<p>${paragraph}</p>`).join('');
}

const offer = (opening: string): string =>
  [
    'Dear {{first name}},',
    `${opening} A few felt panels on the ceiling bring the noise down to where two people can talk: see the ${link('plans/fitting', 'fitting plan')}.`,
    'May I come by with a sample?',
    'Warm regards,<br>Ines',
  ]
    .map((paragraph) => `<p>${paragraph}</p>`)
    .join('');

/** The same offer in two wordings. */
export const OFFER_WORDINGS = [
  {
    subject: 'Quieter lunch hours',
    html: offer('lunch with {{if seats: all {seats} seats | otherwise: every seat}} taken must be loud.'),
  },
  {
    subject: 'What your guests hear at {{company}}',
    html: offer(
      'I wonder what your guests hear when {{if seats: all {seats} seats | otherwise: all seats}} are taken.',
    ),
  },
];

/** What Ines begins messages from. */
export const TEMPLATES = [
  {
    name: 'A gentle reminder',
    folder: 'Follow-ups',
    subject: '',
    html:
      '<p>Dear {{first name|all}},</p><p>I know how emails pile up, so here is a short one: did my last email reach you, ' +
      'and is there anything that I should explain better?</p><p>Warm regards,<br>Ines</p>',
  },
  {
    name: 'First email',
    subject: 'Quieter rooms for {{company|you}}',
    html:
      '<p>Dear {{first name|neighbour}},</p>' +
      '<p>rooms that are pleasant to look at are often hard on the ears. We make felt panels and curtains by hand that ' +
      `take the edge off the sound, and ${link('felt/24/data', 'https://tallowreed.example/felt/24/data')} shows by how much.</p>` +
      '<p>May I come by with a sample, some morning next week?</p>',
  },
  {
    name: 'After a visit',
    reminder: { when: 'in 5 days', zone: 'UTC', condition: 'not-replied' as const, note: '', byEmail: false },
    subject: 'Thank you for yesterday',
    html:
      '<p>Dear {{first name|all}},</p><p>thank you for showing me your rooms. I will send you a sketch within the week; ' +
      `until then, ${link('places', 'these places')} give an idea of what can be done.</p>`,
  },
];

export const SIGNATURE = {
  name: 'With address',
  html: '<p>Ines Valdaro<br>Tallow &amp; Reed, felt for quiet rooms</p>',
};
