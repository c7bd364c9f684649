/** Days and months as asctime(3) has them, whatever the language of the machine. */
const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/**
 * A mail as it stands in an mbox file (RFC 4155): after a line with its sender and time in UTC, with lines that end with LF, and
 * a “>” more before each line that would begin another mail, so that it can be taken off again.
 *
 * @param mail octets, one character each, with lines that end with CRLF
 */
export function mboxEntry(from: string, at: number, mail: string): string {
  const body = mail.replaceAll('\r\n', '\n').replace(/^(>*From )/gm, '>$1');
  return `From ${from} ${asctime(at)}\n${body}${body.endsWith('\n') ? '' : '\n'}\n`;
}

function asctime(at: number): string {
  const time = new Date(at);
  const two = (number: number) => String(number).padStart(2, '0');
  const clock = [time.getUTCHours(), time.getUTCMinutes(), time.getUTCSeconds()].map(two).join(':');
  const day = String(time.getUTCDate()).padStart(2, ' ');
  return `${DAYS[time.getUTCDay()]} ${MONTHS[time.getUTCMonth()]} ${day} ${clock} ${time.getUTCFullYear()}`;
}
