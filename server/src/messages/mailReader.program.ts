import { classify } from '@kiraku/core/incoming';
import { cleanForeign } from './cleaning.js';
import { serveTasks } from '../process/boundedChild.js';
import type { MailTask } from './mailReader.js';
import { readMail } from '../mime/readMail.js';

/* A program of its own: parses mail of strangers. Whatever it reads may be hostile. */

serveTasks(async (task: MailTask) => {
  if ('html' in task) return cleanForeign(task.html, { pictures: task.pictures, targets: task.targets });
  const mail = await readMail(Buffer.from(task.raw), task.returnPath);
  return mail && { mail, classified: classify(mail) };
});
