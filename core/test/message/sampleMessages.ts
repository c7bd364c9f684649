import type { CheckedMessage } from '@kiraku/core/message';

/** A message as somebody who sells writes it in a hurry, and what should be pointed out before it leaves. */
interface Sample extends Partial<Pick<CheckedMessage, 'subject' | 'text' | 'links' | 'files' | 'pictures'>> {
  text: string;
  rules?: string[];
}

/** Nothing is wrong with these: each word of advice would be one too many. */
export const FAULTLESS: readonly Sample[] = [
  { text: 'Hello,\nhere is the proposal we spoke of. Does Thursday at ten suit you?' },
  { text: 'Hi,\nthe samples leave today. They need no attachment, the back is adhesive.' },
  { text: 'Hello there,\nthe panels are attached to the wall with two rails.' },
  { text: 'Dear Marit,\nplease find the offer attached.', files: 1 },
  { text: 'Dear Marit,\nI attached the offer last week. Has it reached you?' },
  { text: 'Dear Otis,\nthank you for the drawing you attached. The span is wider than we thought.' },
  { text: 'Dear Otis,\nI could not open the attachment. Could you send it as a PDF?' },
  { text: 'Good morning Hana,\nyour attachment arrived, and I shall read it on the train.' },
  { text: 'Dear Hana,\nthe felt is attached directly to the concrete, so nothing rattles.' },
  { text: 'Dear Jun,\nwe are rather attached to the old colour, as you know, and would keep it.' },
  { text: 'Dear Jun,\nthe room in the attached garage needs quiet, too.' },
  { subject: 'Re: [EXTERNAL] Panels', text: 'Dear Edda,\nWednesday it is.' },
  { text: 'Dear Edda,\nit meets class B of the norm [DIN] for schools, and [EN] for offices.' },
  { text: 'Dear Edda,\nthe shirts for the fair come in XL and XXXL.' },
  { subject: 'Todo lo que hablamos', text: 'Estimada Edda:\nle escribo mañana con todo. MÉTODO y precio, también.' },
  { text: 'Sehr geehrte Frau Oakes,\ndanke für das Gespräch. Ich rufe Sie am Montag an.' },
  { text: 'Sehr geehrte Frau Oakes,\nanbei das Angebot, wie besprochen.', files: 1 },
  { text: 'Bonjour Madame,\nje vous remercie de votre appel. À jeudi.' },
  { text: 'Chère Edda,\nvous trouverez le devis ci-joint.', files: 1 },
  { text: 'Estimada Edda:\nel director adjunto viene el jueves. ¿Le va bien?' },
  { text: 'Marit,\nyes. Ten o’clock. Bring the samples.' },
  {
    text: 'Dear Marit,\nthe data are on our site.',
    links: [{ url: 'https://tallowreed.example/felt/24', words: 'the data of the 24 mm felt' }],
  },
  { text: 'Dear Marit, I attached the felt with clips on Monday, and it holds.' },
  { text: 'Dear Otis,\nif you prefer, I can send it as an attachment instead of a link.' },
  { text: 'Dear Hana,\nthe rails can be attached in an hour. Two people are enough.' },
  { text: 'Dear Hana,\nI am attaching the boards to the ceiling this week, and call on Friday.' },
  { text: 'Dear Jun,\nthe price is 42 a square metre [without rails], delivered.' },
  { text: 'Dear Jun,\nhow would it look? Like this, only in moss green, in the reading room.', pictures: 1 },
  { text: 'Hi Jun, quick one: is the lift wide enough for panels of 120 cm?' },
  { text: 'Dear Edda,\nas promised, the three dates: 3, 5 and 9 December. Which one suits you best?' },
];

/** Something is wrong with each of these. */
export const FAULTY: readonly Sample[] = [
  { text: 'Dear Marit,\nplease find the offer attached.', rules: ['attachment-missing'] },
  { text: 'Dear Marit,\nplease find attached our offer for the reading room.', rules: ['attachment-missing'] },
  { text: 'Dear Marit,\nI have attached the drawing. Call me with questions.', rules: ['attachment-missing'] },
  { text: 'Dear Marit,\nI’ve attached it.', rules: ['attachment-missing'] },
  { text: 'Dear Otis,\nattached is the list of colours.', rules: ['attachment-missing'] },
  { text: 'Dear Otis,\nAttached please find the contract.', rules: ['attachment-missing'] },
  { text: 'Dear Otis,\nthe price list is attached.', rules: ['attachment-missing'] },
  { text: 'Dear Otis,\nthe drawings are attached to this message.', rules: ['attachment-missing'] },
  { text: 'Dear Hana,\nas discussed last week, see the attached proposal.', rules: ['attachment-missing'] },
  { text: 'Dear Hana,\nyou will see in the attachment how we count.', rules: ['attachment-missing'] },
  { text: 'Dear Hana,\nsee attachment.', rules: ['attachment-missing'] },
  { text: 'Dear Hana,\nI am attaching the two plans.', rules: ['attachment-missing'] },
  { text: 'Dear Jun,\nthe enclosed brochure has the colours.', rules: ['attachment-missing'] },
  { text: 'Dear Jun,\nwe have also enclosed a calculation.', rules: ['attachment-missing'] },
  { text: 'Dear Jun,\nI send the invoice as an attachment.', rules: ['attachment-missing'] },
  { text: 'Sehr geehrte Frau Oakes,\nanbei unser Angebot.', rules: ['attachment-missing'] },
  { text: 'Liebe Edda,\ndie Preisliste finden Sie im Anhang.', rules: ['attachment-missing'] },
  { text: 'Chère Edda,\nvous trouverez le devis ci-joint.', rules: ['attachment-missing'] },
  { text: 'Bonjour,\nle plan est en pièce jointe.', rules: ['attachment-missing'] },
  { text: 'Estimada Edda:\nle envío adjunto el presupuesto.', rules: ['attachment-missing'] },
  { text: 'Gentile Edda,\nin allegato la nostra offerta.', rules: ['attachment-missing'] },
  { text: 'Beste Edda,\nin de bijlage vindt u de offerte.', rules: ['attachment-missing'] },
  { text: 'Hej Edda,\njag har bifogat offerten.', rules: ['attachment-missing'] },
  { text: 'Dear ,\nhere is the proposal.', rules: ['placeholder'] },
  { text: 'Hi ,\nquick question.', rules: ['placeholder'] },
  { text: 'Dear [Name],\nthank you for your time.', rules: ['placeholder'] },
  { text: 'Dear Marit,\nI should like to show [Company Name] how it works.', rules: ['placeholder'] },
  { text: 'Dear Marit,\nit costs XXX a square metre.', rules: ['placeholder'] },
  { subject: '', text: 'Dear Marit,\nTODO: the date.', rules: ['no-subject', 'placeholder'] },
  {
    text: 'Dear Marit,\nthe data are here:',
    links: [{ url: 'http://tallowreed.example/felt', words: 'https://tallowreed.example/felt' }],
    rules: ['address-as-words', 'not-secure'],
  },
];
