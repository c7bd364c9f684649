import { Button, Skeleton } from 'antd';
import type { MailboxFailure, MailboxView } from '@kiraku/core/contract';
import { mailboxCheckedSentence, unreadMailProblem, unreadMailText } from '@kiraku/core/sentences';
import { useNow } from '../shared/hooks/useNow.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { RefusedMails } from '../refused/RefusedMails.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { useMailboxQuery, useRetryMailMutation } from '../shared/api/mailboxApi.js';
import { MailboxFields } from './MailboxFields.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** How replies, receipts and failures find their way here. */
export default function MailboxPage() {
  usePageTitle('Replies and receipts');
  const { data, error, refetch } = useMailboxQuery(null, { pollingInterval: 10_000 });
  return (
    <SettingsFrame>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 8 }} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-labelledby="settings-incoming">
            <h2 id="settings-incoming">How replies come in</h2>
            <MailboxFields view={data} />
          </section>
          <section aria-labelledby="settings-incoming-state">
            <h2 id="settings-incoming-state">Status</h2>
            <State view={data} />
            <Failures failures={data.state.failures} />
            {data.way === 'lmtp' && (
              <RefusedMails
                way="lmtp"
                title="Not accepted from your mail server"
                help="Deferred mail is offered again by your mail server. Dropped mail can be saved here."
              />
            )}
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}

function State({ view: { way, state, lmtpPort } }: { view: MailboxView }) {
  const now = useNow();
  if (way === 'none') return <p className="tone-needs-you">Replies are not seen, so automatic follow-ups wait.</p>;
  if (way === 'lmtp')
    return lmtpPort === 0 ? (
      <p className="tone-needs-you">The port could not be opened: another program has it.</p>
    ) : (
      <p>Mail is accepted on port {lmtpPort}.</p>
    );
  return (
    <>
      {state.problem && <p className="tone-needs-you">{state.problem} Kiraku tries again by itself.</p>}
      <p>{mailboxCheckedSentence(state, now)}</p>
    </>
  );
}

/** Mails that lie in the mailbox and could not be read. */
function Failures({ failures }: { failures: readonly MailboxFailure[] }) {
  const now = useNow();
  const [retry, { isLoading }] = useRetryMailMutation();
  if (failures.length === 0) return null;
  return (
    <>
      <h3>Could not be read</h3>
      <p className="soft">These messages are still in your mailbox. If one is a reply, it is not counted here.</p>
      <ul className={settingsStyles.list}>
        {failures.map((failure) => (
          <li key={failure.id}>
            <span>
              {unreadMailText(failure)}
              <br />
              <span className="soft">{unreadMailProblem(failure, now)}</span>
            </span>
            {failure.givenUp && (
              <Button size="small" loading={isLoading} onClick={() => void retry(failure.id)}>
                Try again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
