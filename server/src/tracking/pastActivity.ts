import type { JudgingProgress } from '@kiraku/core/contract';
import type { Database } from '../store/database.js';
import { countListed, listedAfter } from '../store/listed.js';
import { removeSetting, setSetting, settingOf } from '../store/settings.js';
import type { EventWriter } from './eventWriter.js';

const PROGRESS = 'judging.progress';
/** A transaction takes no longer than this and one message more: hits that come meanwhile wait for its end. */
const REJUDGE_SLICE_MS = 30;
const MAX_MESSAGES_PER_REJUDGE = 500;

interface Progress extends JudgingProgress {
  /** The last message that is done; the next has a greater id. */
  after: number;
}

/** How far all that is past has been judged again. */
export class PastActivity {
  constructor(private readonly database: Database) {}

  /** Null where nothing is under way. */
  progress(): JudgingProgress | null {
    const found = settingOf<Progress>(this.database, PROGRESS);
    return found ? { done: found.done, total: found.total, changed: found.changed } : null;
  }

  /** Begins anew, from the first message on. */
  begin(): JudgingProgress {
    const begun = { done: 0, total: countListed(this.database), changed: 0 };
    setSetting(this.database, PROGRESS, { ...begun, after: 0 } satisfies Progress);
    return begun;
  }

  /**
   * Judges the next messages again, within the caller's transaction: how far it has come is committed with what was
   * judged. Returns how many hits count otherwise than before.
   */
  judgeNext(writer: EventWriter, now: number): number {
    const before = settingOf<Progress>(this.database, PROGRESS);
    if (!before) return 0;
    const ids = listedAfter(this.database, before.after, MAX_MESSAGES_PER_REJUDGE);
    if (ids.length === 0) {
      removeSetting(this.database, PROGRESS);
      return 0;
    }
    const progress = { ...before };
    const end = performance.now() + REJUDGE_SLICE_MS;
    for (const id of ids) {
      progress.changed += writer.rejudge(id, now);
      progress.done += 1;
      progress.after = id;
      if (performance.now() >= end) break;
    }
    setSetting(this.database, PROGRESS, progress);
    return progress.changed - before.changed;
  }
}
