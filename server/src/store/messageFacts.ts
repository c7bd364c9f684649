import { sql } from 'drizzle-orm';
import { PROOF_COUNTS } from '@kiraku/core/activity';
import { FACT_NAMES, FACTS, type Fact } from '@kiraku/core/reports';
import { message } from './schema.js';

const counts = PROOF_COUNTS.map((name) => message[name]);

/** Whether a message was read, by any sign of it. */
export const isRead = sql`(${sql.join(
  counts.map((name) => sql`${name} > 0`),
  sql` or `,
)})`;

/** Whether a message shows no sign of reading, in the words of the index of these. */
export const isUnread = sql.join(
  counts.map((name) => sql`${name} = 0`),
  sql` and `,
);

const CONDITIONS: Record<Fact, ReturnType<typeof sql>> = {
  isTracked: sql`(${message.trackOpens} and ${message.untrackedReason} is null)`,
  hasLinks: sql`${message.hasLinks}`,
  hasFiles: sql`${message.hasFiles}`,
  wasRead: isRead,
  wasClicked: sql`(${message.clicks} > 0)`,
  wasViewed: sql`(${message.fileViews} > 0)`,
  wasReplied: sql`(${message.replies} > 0)`,
};

/** The sum of FACTS that are true of a message: what rates are counted by. */
export const SUM_OF_FACTS = sql<number>`${sql.join(
  FACT_NAMES.map((name) => sql`${CONDITIONS[name]} * ${sql.raw(String(FACTS[name]))}`),
  sql` + `,
)}`;
