import { appointmentWords } from '../time/words.js';
import { WEEKDAY_NAMES } from './person.js';

const WEEKDAY_CODES = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];
const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth'];

/**
 * Ways to repeat a message, named after the day on which it is sent first. Each is a rule without an end (RFC 5545,
 * section 3.3.10); that of a message which is sent once is empty.
 *
 * @param weekday from Monday (0)
 * @param day of the month, from 1
 */
export function recurrencePatterns({ weekday, day }: { weekday: number; day: number }): [rule: string, text: string][] {
  const [code, name] = [WEEKDAY_CODES[weekday]!, WEEKDAY_NAMES[weekday]!];
  const week = Math.ceil(day / 7);
  return [
    ['', 'Once'],
    ['FREQ=DAILY', 'Every day'],
    ['FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', 'Every working day'],
    [`FREQ=WEEKLY;BYDAY=${code}`, `Every ${name}`],
    [`FREQ=WEEKLY;INTERVAL=2;BYDAY=${code}`, `Every second ${name}`],
    [`FREQ=MONTHLY;BYMONTHDAY=${day}`, `Monthly, on day ${day}`],
    [`FREQ=MONTHLY;BYDAY=${week}${code}`, `Monthly, on the ${ORDINALS[week - 1]} ${name}`],
    [`FREQ=MONTHLY;BYDAY=-1${code}`, `Monthly, on the last ${name}`],
    ['FREQ=YEARLY', 'Every year'],
  ];
}

/** The next times at which a repeating message is sent. `areAll` says whether there are no more. */
export function occurrencesSentence(times: readonly number[], areAll: boolean): string {
  return `Sent ${times.map((one) => appointmentWords(one)).join('; ')}${areAll ? '.' : ' …'}`;
}
