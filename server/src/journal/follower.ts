import { setImmediate as nextTurn } from 'node:timers/promises';
import { MAX_FRAME_BYTES, readFrames, type Frame } from './frames.js';
import { isOver, readSegment, removeRun, removeSegment, runsOf, type Run } from './journalFiles.js';
import type { Position, Positions } from './positions.repository.js';

/** Twice the longest frame, so that a whole one is always among what is read. */
const READ_BYTES = 2 * MAX_FRAME_BYTES;
/** As many as go into one transaction, so that other writers get their turn between two. */
const MAX_ENTRIES_PER_COMMIT = 500;

/** What is done with the entries of the journal. */
export interface Applying<Entry> {
  /**
   * Applies entries, in their order, and moves the position in the same transaction. It may take fewer than it is given,
   * but at least one.
   *
   * @param from where the journal stands before them
   * @param positions where it stands after each of them
   * @returns how many it took
   */
  apply(entries: Entry[], from: Position, positions: Position[]): number | Promise<number>;
  /** Says what was lost of a run: in words, for the log. */
  lost(run: string, what: string): void;
}

/** The reading end of the journal: applies what all its runs hold, each entry once, and removes what has been applied. */
export class Follower<Entry> {
  /** Whether there may be positions of runs that are gone. */
  private hasRemoved = true;

  constructor(
    private readonly folder: string,
    private readonly positions: Positions,
    private readonly applying: Applying<Entry>,
  ) {}

  /** Applies all that is there. Resolves to how many entries those were. */
  async catchUp(): Promise<number> {
    const runs = runsOf(this.folder);
    // The files of a run are gone for good before its position is forgotten.
    if (this.hasRemoved) this.positions.keepOnly(runs.map(({ name }) => name));
    this.hasRemoved = false;
    let applied = 0;
    for (const run of runs) applied += await this.follow(run);
    return applied;
  }

  private async follow(run: Run): Promise<number> {
    let position = this.positions.of(run.name, run.segments[0] ?? 1);
    // Asked before the last bytes are read: whoever has ended writes no more of them.
    const over = isOver(this.folder, run.name);
    let applied = 0;
    for (const segment of run.segments) {
      if (segment > position.segment) position = { ...position, segment, offset: 0 };
      if (segment === position.segment) {
        const before = position.sequence;
        position = await this.followSegment(position, over || segment !== run.segments.at(-1));
        applied += position.sequence - before;
      }
      if (segment !== run.segments.at(-1)) removeSegment(this.folder, run.name, segment);
    }
    if (over) removeRun(this.folder, run);
    this.hasRemoved ||= over;
    return applied;
  }

  /** @param isWritten whether nobody writes to it any more */
  private async followSegment(from: Position, isWritten: boolean): Promise<Position> {
    let position = from;
    for (;;) {
      const { run, segment, offset } = position;
      const bytes = readSegment(this.folder, run, segment, offset, READ_BYTES);
      const { frames, end, tornBytes, damagedBytes } = readFrames(bytes, isWritten);
      if (damagedBytes > 0) this.applying.lost(run, `${damagedBytes} bytes of segment ${segment} are damaged`);
      const isDamageAlone = isWritten && frames.length === 0 && tornBytes > MAX_FRAME_BYTES;
      if (frames.length === 0 && !isDamageAlone) {
        if (isWritten && tornBytes > 0)
          this.applying.lost(run, `${tornBytes} bytes at the end of segment ${segment} were not written whole`);
        return position;
      }
      const { sequence } = await this.applyAll(position, frames);
      position = { ...position, sequence, offset: offset + (isDamageAlone ? tornBytes - MAX_FRAME_BYTES : end) };
      await nextTurn();
    }
  }

  private async applyAll(from: Position, frames: readonly Frame[]): Promise<Position> {
    const fresh = frames.filter(({ sequence }) => sequence > from.sequence);
    let position = from;
    for (let at = 0; at < fresh.length;) {
      const group = fresh.slice(at, at + MAX_ENTRIES_PER_COMMIT);
      const positions = group.map(({ sequence, end }) => ({ ...from, offset: from.offset + end, sequence }));
      const entries = group.map(({ payload }) => JSON.parse(payload.toString('utf8')) as Entry);
      const taken = await this.applying.apply(entries, position, positions);
      position = positions[taken - 1]!;
      at += taken;
    }
    return position;
  }
}
