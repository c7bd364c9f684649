import { sql } from 'drizzle-orm';
import { PROOF_COUNTS } from '@kiraku/core/activity';
import { message } from './schema.js';

const counts = PROOF_COUNTS.map((count) => message[count]);

/** Whether a message was read, by any sign of it. */
export const isRead = sql`(${sql.join(
  counts.map((count) => sql`${count} > 0`),
  sql` or `,
)})`;

/** Whether a message shows no sign of reading, in the words of the index of these. */
export const isUnread = sql.join(
  counts.map((count) => sql`${count} = 0`),
  sql` and `,
);
