/** What stands in an archive, for whoever opens it without Kiraku. */
export const ARCHIVE_README = `All that Kiraku kept, in open formats. Times are in UTC.

sent.mbox         the messages that were sent, without tracking, as mails (RFC 4155);
                  most mail programs import it
messages.csv      the same messages, a row each, with what became of them (RFC 4180)
messages.jsonl    the same, a JSON object a line
events.csv        every open, click, view, reply, receipt and failure, a row each
events.jsonl      the same, a JSON object a line
incoming.jsonl    replies, receipts and reports, with the words that were kept of them;
                  messageId is the number of the message that they are about
people.csv        everybody, a row each
people.vcf        the same, as cards (vCard 4, RFC 6350)
reminders.ics     reminders and follow-ups that are to come, as a calendar (RFC 5545)
templates.jsonl   templates, with their text in HTML
files/            the files that were sent: number, version and name

An apostrophe before a value in a sheet keeps a spreadsheet from taking it for a formula.
A ">" before a line of sent.mbox that begins with "From " is to be taken off.
`;
