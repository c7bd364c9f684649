import { Button, Checkbox, Radio } from 'antd';
import { useState } from 'react';
import type { HistoryFound } from '@kiraku/core/contract';
import { historyFoundSentence, historySenderText } from '@kiraku/core/sentences';
import { useDoWithHistoryMutation, useImportHistoryMutation } from '../shared/api/historyApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import settingsStyles from '../shared/ui/settings.module.css';

const WHAT = [
  { value: false, label: 'The people: names, how often you wrote to them, and when last' },
  { value: true, label: 'The people and the messages. They are not tracked, and replies to them are seen' },
];

/** What was found in earlier mail, and what of it is to be imported. */
export function FoundMail({ found, source }: { found: HistoryFound; source: string }) {
  const now = useNow();
  const [senders, setSenders] = useState(found.senders.filter(({ isOwn }) => isOwn).map(({ address }) => address));
  const [withMessages, setWithMessages] = useState(false);
  const [importFound, result] = useImportHistoryMutation();
  const [act] = useDoWithHistoryMutation();
  return (
    <>
      <p role="status">
        In {source}: {historyFoundSentence(found, now)}
      </p>
      {found.senders.length > 0 && (
        <>
          <h3>Which senders are you?</h3>
          <Checkbox.Group
            className={settingsStyles.sentences}
            value={senders}
            onChange={(chosen) => setSenders(chosen)}
            options={found.senders.slice(0, MOST_SENDERS).map((sender) => ({
              value: sender.address,
              label: `${sender.address}: ${historySenderText(sender)}`,
            }))}
          />
          <h3>What is imported?</h3>
          <Radio.Group
            className={settingsStyles.sentences}
            value={withMessages}
            onChange={({ target }) => setWithMessages(target.value as boolean)}
            options={WHAT}
          />
          <p className="soft">Files that travelled with the messages are not imported.</p>
        </>
      )}
      <FormProblem error={result.error} />
      <div className={settingsStyles.buttons}>
        <Button
          type="primary"
          disabled={senders.length === 0}
          loading={result.isLoading}
          onClick={() => void importFound({ senders, withMessages })}
        >
          Import
        </Button>
        <Button onClick={() => void act('stop')}>Cancel</Button>
      </div>
    </>
  );
}

/** Whose mail it is is among those who sent most. */
const MOST_SENDERS = 8;
