import { Button, Checkbox } from 'antd';
import { ROUND_WARNINGS, type RoundMember, type RoundView } from '@kiraku/core/contract';
import { memberStatus, personText, warningSentence, wordingName } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { useLeaveOutMutation } from '../shared/api/roundsApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { BoxedRows } from '../shared/ui/WindowedRows.js';
import { toneClass } from '../shared/ui/tone.js';
import styles from './rounds.module.css';

const ROW_HEIGHT = 34;

interface PreparedPeopleProps {
  round: RoundView;
  onLookAt(messageId: number): void;
}

/** To whom a round goes, and what should be thought of before it does. */
export function PreparedPeople({ round: { id, members, wordings }, onLookAt }: PreparedPeopleProps) {
  const now = useNow();
  const [leaveOut] = useLeaveOutMutation();
  const set = (of: readonly RoundMember[], leftOut: boolean) =>
    void leaveOut({ id, messageIds: of.map(({ messageId }) => messageId), leftOut });
  const included = members.filter(({ leftOut }) => !leftOut);
  const warned = ROUND_WARNINGS.map((warning) => ({
    warning,
    of: included.filter(({ warnings }) => warnings.includes(warning)),
  })).filter(({ of }) => of.length > 0);
  const unfilled = included.filter((one) => one.unfilled.length > 0);
  return (
    <section aria-labelledby="round-people">
      <h2 id="round-people">Who gets it</h2>
      <ul className={styles.warnings}>
        {unfilled.length > 0 && (
          <li>
            <span className="tone-needs-you">
              {counted(unfilled.length, 'person', 'people')}: a placeholder cannot be filled.
            </span>{' '}
            <Button size="small" onClick={() => set(unfilled, true)}>
              Leave out
            </Button>
          </li>
        )}
        {warned.map(({ warning, of }) => (
          <li key={warning}>
            {warningSentence(warning, of.length)}{' '}
            <Button
              size="small"
              onClick={() => set(of, true)}
              aria-label={`Leave out: ${warningSentence(warning, of.length)}`}
            >
              Leave out
            </Button>
          </li>
        ))}
      </ul>
      <BoxedRows
        items={members}
        keyOf={({ messageId }) => messageId}
        rowHeight={ROW_HEIGHT}
        label="People"
        boxClass={styles.peopleBox}
        className={styles.people}
      >
        {(member) => {
          const { tone, text } = memberStatus(member, now);
          return (
            <>
              <Checkbox checked={!member.leftOut} onChange={({ target }) => set([member], !target.checked)}>
                {personText(member.recipient)}
              </Checkbox>
              {wordings.length > 1 && <span className="soft">{wordingName(member.wording)}</span>}
              <span className={toneClass(tone)}>{text}</span>
              <Button
                type="link"
                size="small"
                disabled={member.leftOut}
                onClick={() => onLookAt(member.messageId)}
                aria-label={`Preview for ${personText(member.recipient)}`}
              >
                Preview
              </Button>
            </>
          );
        }}
      </BoxedRows>
    </section>
  );
}
