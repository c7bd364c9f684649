import { createApp } from '@kiraku/server/app';
import type { Config } from '@kiraku/server/environment/config';
import { SessionService } from '@kiraku/server/session/session.service';
import { AccountService } from '@kiraku/server/settings/account.service';

/** A port at which nobody takes mail. */
const NO_SERVER = 9;

/** An account, so that the page shows the desk, and a session. Returns the value of its cookie. */
export async function openSession(config: Config, smtpPort = NO_SERVER): Promise<string> {
  const app = await createApp(config);
  const account = { name: 'Ines', address: 'ines@tallowreed.example', smtpHost: '127.0.0.1', smtpPort };
  app.get(AccountService).save({ ...account, smtpSecurity: 'none', smtpUser: '' });
  await app.get(SessionService).choosePassphrase('felt and reed');
  const token = app.get(SessionService).open();
  await app.close();
  return token;
}
