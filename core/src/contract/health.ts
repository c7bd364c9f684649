/** Work that goes on by itself: what is sent, fetched, prepared and deleted. */
export interface WorkView {
  name: string;
  isRunning: boolean;
  /** Null where it has not run since the start. */
  lastRunAt: number | null;
  /** Null while nothing is due until something happens. */
  nextRunAt: number | null;
  /** Why the last run failed, in words; null where it did not. */
  lastError: { at: number; text: string } | null;
}

export interface HealthView {
  status: 'ok' | 'failing';
  work: WorkView[];
}
