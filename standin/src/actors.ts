import type { Mailboxes } from './mailboxes.js';
import { READERS_PROGRAMS, type ReadingProgram } from './programs.js';
import { contentsOf, fetchImage, followLink } from './reading.js';

/** One thing that one recipient does. */
interface Action {
  afterMs: number;
  run(): Promise<void>;
}

export interface ActorsState {
  acting: boolean;
  done: number;
  planned: number;
}

const RECENT_MAILS = 40;
const READERS = 8;

/** Recipients who read their mail automatically over some minutes, so that there is something to watch. */
export class Actors {
  private timers: NodeJS.Timeout[] = [];
  private done = 0;
  private planned = 0;

  constructor(private readonly mailboxes: Mailboxes) {}

  get state(): ActorsState {
    return { acting: this.done < this.planned, done: this.done, planned: this.planned };
  }

  /** Begins anew: some recipients of recent mail read it, some follow a link, one comes back again and again. */
  async start(lengthMs: number): Promise<void> {
    this.stop();
    const actions = await this.plan(lengthMs);
    this.planned = actions.length;
    this.timers = actions.map(({ afterMs, run }) =>
      setTimeout(() => void run().finally(() => (this.done += 1)), afterMs),
    );
  }

  stop(): void {
    this.timers.forEach(clearTimeout);
    this.done = this.planned = 0;
  }

  private async plan(lengthMs: number): Promise<Action[]> {
    const mails = shuffled(await this.recentMails()).slice(0, READERS);
    return mails.flatMap((mail, index) => {
      const program = READERS_PROGRAMS[index % READERS_PROGRAMS.length]!;
      const firstMs = (lengthMs * (index + 0.2)) / mails.length;
      const open = { afterMs: firstMs, run: () => this.open(mail, program) };
      const click = { afterMs: firstMs + 4000, run: () => this.follow(mail, program) };
      // The first keeps coming back: more than a minute apart, or it would be one and the same open.
      const again = [1, 2].map((n) => ({ afterMs: firstMs + n * 65_000, run: () => this.open(mail, program) }));
      return [open, ...(index % 2 === 0 ? [click] : []), ...(index === 0 ? again : [])];
    });
  }

  private async recentMails(): Promise<{ address: string; id: string }[]> {
    const boxes = await this.mailboxes.list();
    const mails = await Promise.all(
      boxes.map(async ({ address }) => (await this.mailboxes.mails(address)).map((mail) => ({ address, ...mail }))),
    );
    return mails
      .flat()
      .sort((a, b) => b.date.getTime() - a.date.getTime())
      .slice(0, RECENT_MAILS);
  }

  private async open(mail: { address: string; id: string }, program: ReadingProgram): Promise<void> {
    const { images } = await this.contents(mail);
    if (program.loadsImages)
      await Promise.all(images.map((url) => fetchImage(url, { program, mailbox: mail.address })));
  }

  private async follow(mail: { address: string; id: string }, program: ReadingProgram): Promise<void> {
    const [url] = (await this.contents(mail)).links;
    if (url) await followLink(url, { program, mailbox: mail.address });
  }

  private async contents({ address, id }: { address: string; id: string }) {
    const mail = await this.mailboxes.read(address, id);
    return contentsOf(mail?.html || '');
  }
}

function shuffled<T>(list: T[]): T[] {
  return list
    .map((item) => ({ item, order: Math.random() }))
    .sort((a, b) => a.order - b.order)
    .map(({ item }) => item);
}
