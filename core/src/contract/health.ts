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

/** The processes that the supervisor starts, and starts again where they end. */
export type ProcessName = 'desk' | 'public site';

export interface ProcessView {
  name: ProcessName;
  startedAt: number;
  /** How often it was started again since Kiraku was started. */
  restarts: number;
  /** How it ended last, in words; null where it has not. */
  lastEnd: { at: number; why: string } | null;
}

/** What happened at the public site since it was started and could not be written down: its disk was full. */
export interface NotRecordedView {
  count: number;
  lastAt: number;
  why: string;
}

export interface HealthView {
  status: 'ok' | 'failing';
  work: WorkView[];
  /** None where the desk runs by itself. */
  processes: ProcessView[];
  /** Null where everything was written down. */
  notRecorded: NotRecordedView | null;
}
