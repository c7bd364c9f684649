import { isAutomatic } from '@kiraku/core/inbox';
import { received } from './mail.js';

test.each<[header: string, value: string, automatic: boolean]>([
  ['auto-submitted', 'auto-replied', true],
  ['auto-submitted', 'auto-generated; owner-email="x@y.example"', true],
  ['auto-submitted', 'no', false],
  ['auto-submitted', 'No', false],
  ['auto-submitted', 'nothing-standard', true],
  ['x-autoreply', 'yes', true],
  ['x-autorespond', 'Away', true],
  ['x-autoresponse', '1', true],
  ['x-auto-response-suppress', 'All', true],
  ['x-auto-response-suppress', 'DR, OOF', true],
  ['x-auto-response-suppress', 'AutoReply', true],
  ['x-auto-response-suppress', 'DR', false],
  ['precedence', 'bulk', true],
  ['precedence', 'junk', true],
  ['precedence', 'auto_reply', true],
  ['precedence', 'list', true],
  ['precedence', 'first-class', false],
  ['list-id', 'News <news.lindqvist.example>', true],
  ['x-mailer', 'vacation 1.2', true],
  ['x-mailer', 'A mail program', false],
])('%s: %s says that a machine wrote it: %s', (header, value, automatic) => {
  expect(isAutomatic(received({ headers: { [header]: value } }))).toBe(automatic);
});

test.each<[subject: string, automatic: boolean]>([
  ['Automatic reply: Panels', true],
  ['Re: Automatic reply: Panels', true],
  ['AW: Automatische Antwort: Panels', true],
  ['SV: Autosvar: Panels', true],
  ['Auto-Response: away', true],
  ['automated response', true],
  ['Out of office', true],
  ['Out of the office until Monday', true],
  ['Abwesenheitsnotiz: Panels', true],
  ['Réponse automatique : Panneaux', true],
  ['Respuesta automática', true],
  ['Risposta automatica', true],
  ['Frånvaro', true],
  ['Poissa toimistolta', true],
  ['Vastaus: Olen poissa', true],
  ['On holiday until May', true],
  ['On vacation', true],
  ['On leave', true],
  ['Re: Panels for the reading room', false],
  ['The automatic doors', false],
  ['Our office is out of panels', false],
  ['Leave it to me', false],
])('“%s” is what a machine calls its answers: %s', (subject, automatic) => {
  expect(isAutomatic(received({ subject }))).toBe(automatic);
});

test('what comes from no address is no person’s', () => {
  expect(isAutomatic(received({ returnPath: '' }))).toBe(true);
  expect(isAutomatic(received({ returnPath: null }))).toBe(false);
});
