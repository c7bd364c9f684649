/** Hour of the night, by the clocks of this machine, at which nobody works. */
const BACKUP_HOUR = 3;

/**
 * When the next backup is due, in epoch milliseconds: in the night after the last one, or at once where there is none. What is
 * past was missed while the machine was off, and is due now.
 *
 * @param lastAt when the last one was made; null where none was
 */
export function nextBackupAt(lastAt: number | null, now: number): number {
  if (lastAt === null) return now;
  const night = new Date(lastAt);
  night.setHours(BACKUP_HOUR, 0, 0, 0);
  if (night.getTime() <= lastAt) night.setDate(night.getDate() + 1);
  return night.getTime();
}
