import { DAY } from '@kiraku/core/time';
import { databaseFile, type Config } from '@kiraku/server/environment/config';
import { openDatabase } from '@kiraku/server/store/database';

const STEPS = 3;

/** Has the newest messages of a folder each wait for a reply: with a reminder, and with messages that are to follow. */
export function seedFollowups(config: Config, count: number): void {
  const database = openDatabase(databaseFile(config)).$client;
  const given = { count, dueAt: Date.now() + DAY };
  const run = (statement: string) => database.prepare(statement).run(given);
  run(
    `insert into template (name, subject, html, created_at, updated_at) values ('A nudge', '', '<p>Did you see it?</p>', @dueAt, @dueAt)`,
  );
  run(`insert into reminder (state, due_at, condition, note, by_email, zone, message_id, created_at)
    select 'waiting', @dueAt + id, 'not-replied', '', 0, 'UTC', id, @dueAt from message order by id desc limit @count`);
  run(
    `insert into plan (message_id, state, zone) select id, 'running', 'UTC' from message order by id desc limit @count`,
  );
  for (let step = 0; step < STEPS; step += 1)
    run(`insert into plan_step (plan_id, template_id, condition, working_days, time, state, due_at)
      select plan.id, template.id, 'not-replied', 2, '09:00', 'planned', ${step === 0 ? '@dueAt + plan.id' : 'null'}
      from plan, (select max(id) id from template) template limit @count`);
  database.close();
}
