/** How a line of the log matters: by the names and numbers of syslog (RFC 5424, section 6.2.1). */
const LEVELS = { error: 3, warning: 4, info: 6 } as const;
export type LogLevel = keyof typeof LEVELS;

/** What would begin another line, or steer a terminal. */
const CONTROL = /[\p{Cc}\u2028\u2029]+\s*/gu;
const MAX_LINE_CHARS = 4000;

/**
 * One line of the log: for the journal of the system with the level that it reads (sd-daemon(3)), since it knows the time; for
 * everybody else with the time in UTC.
 *
 * @param from what says it
 * @example logLine('warning', 'Mailbox', 'It was closed', 0) // 1970-01-01T00:00:00.000Z warning Mailbox: It was closed
 */
export function logLine(level: LogLevel, from: string, text: string, now: number, isJournal = false): string {
  const start = isJournal ? `<${LEVELS[level]}>` : `${new Date(now).toISOString()} ${level} `;
  return `${start}${from}: ${text}`.replace(CONTROL, ' | ').slice(0, MAX_LINE_CHARS);
}

/** Writes a line to the error stream, where the supervisor, a terminal or the journal takes it. */
export function log(level: LogLevel, from: string, said: unknown): void {
  const text = said instanceof Error ? (said.stack ?? said.message) : String(said);
  process.stderr.write(`${logLine(level, from, text, Date.now(), process.env['JOURNAL_STREAM'] !== undefined)}\n`);
}
