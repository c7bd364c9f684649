/** What “attached” is followed by where it is not about a file: the wall, screws, somebody’s hand. */
const NOT_A_FILE = String.raw`(?!\s+(?:to(?!\s+this)|with|by|directly|at|on|in|from)\b)`;
const KINDS_OF_FILES =
  '(?:file|document|proposal|offer|quote|quotation|price list|list|invoice|sheet|drawing|plan|pdf|slides?|deck|' +
  'presentation|brochure|contract|agreement|form|photo|picture|image|calculation|schedule|summary)';

/** How it is said that something travels with the message, in the languages that are written most. */
const CLAIMS = [
  String.raw`\b(?:find|see|review|read|sign|open|check|use)\b[^.!?\n]{0,60}?\b(?:attached|enclosed)\b${NOT_A_FILE}`,
  String.raw`\b(?:is|are|i|i['’]ve|we|we['’]ve|have)\s+(?:also\s+|now\s+)?(?:attached|enclosed)\b${NOT_A_FILE}`,
  String.raw`^\W*(?:attached|enclosed)\s+(?:is|are|you|please|herewith)\b`,
  String.raw`\b(?:am|['’]m|are|['’]re)\s+(?:also\s+)?(?:attaching|enclosing)\b(?![^.!?\n]*\bto the\b)`,
  String.raw`\b(?:(?:in|see|with|open)\s+(?:the|this)\s+|see\s+|as\s+(?:an\s+)?)(?:attachment|enclosure)s?\b`,
  String.raw`\b(?:the|this|these)\s+(?:attached|enclosed)\s+${KINDS_OF_FILES}s?\b`,
  String.raw`\b(?:im\s+Anhang|in\s+der\s+Anlage|anbei|angehängt|beigefügt|angefügt)\b`,
  String.raw`\b(?:ci-joint(?:e?s?)|en\s+pièces?\s+jointes?|je\s+(?:vous\s+)?joins)\b`,
  // “Adjunto” alone is somebody’s deputy.
  String.raw`(?<!\p{L})(?:(?:envío|enviamos|remito|va|van|encontrará|encuentra)\s+(?:[\p{L}]+\s+){0,3}?adjunt[oa]s?|adjunto\s+(?:el|la|los|las|le|les|te|encontrará)|(?:archivos?|documentos?|ficheros?)\s+adjuntos?)(?!\p{L})`,
  String.raw`(?<!\p{L})(?:in\s+allegato|allego|(?:è|sono|trova|trovate)\s+allegat[oiae]|em\s+anexo|(?:segue|seguem|vai|vão)\s+anexad[oa]s?)(?!\p{L})`,
  String.raw`\b(?:(?:in\s+de|als)\s+bijlage|bijgevoegd|bijgaand|bifoga(?:d|t|r|de)?|w\s+załączniku)\b`,
].map((claim) => new RegExp(claim, 'iu'));

/** Of another message, or of none: “the attachment you sent”, “I attached it last week”, “could not open”. */
const ELSEWHERE =
  /\battach(?:ed|ments?)\b[^.!?\n]{0,40}\b(?:last|yesterday|earlier|before|on (?:mon|tues|wednes|thurs|fri|satur|sun)day)\b|\b(?:could not|couldn['’]t|cannot|can['’]t)\b|\b(?:your|no|without|any)\s+(?:\w+\s+)?attachments?\b|\bif you (?:prefer|like|want)\b|\byou(?:['’]ve| have)? (?:sent|attached|enclosed)\b/iu;

/**
 * The words by which a message says that a file travels with it, in whatever language; null where it does not.
 *
 * @example attachmentClaim('Please find the offer attached.') // 'find the offer attached'
 */
export function attachmentClaim(text: string): string | null {
  for (const sentence of text.split(/(?<=[.!?])\s|\n/)) {
    if (ELSEWHERE.test(sentence)) continue;
    for (const claim of CLAIMS) {
      const found = claim.exec(sentence);
      if (found) return found[0].replace(/^\W+/u, '');
    }
  }
  return null;
}
