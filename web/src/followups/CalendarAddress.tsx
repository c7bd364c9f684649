import { Button, Checkbox, Radio, Typography } from 'antd';
import { useState } from 'react';
import type { CalendarView } from '@kiraku/core/contract';
import { useCalendarQuery, useCloseCalendarMutation, useRenewCalendarMutation } from '../shared/api/followupsApi.js';
import styles from './followups.module.css';

/** The secret address at which calendar programs find all of it. */
export function CalendarAddress() {
  const { data } = useCalendarQuery(null);
  if (!data) return null;
  return (
    <section aria-labelledby="followups-calendar" className={styles.calendar}>
      <h2 id="followups-calendar">In your calendar</h2>
      {data.address === null ? <Open /> : <Opened view={data} address={data.address} />}
    </section>
  );
}

function Opened({ view, address }: { view: CalendarView; address: string }) {
  const [renew, { isLoading }] = useRenewCalendarMutation();
  const [close] = useCloseCalendarMutation();
  const { isPublic, withNames } = view;
  return (
    <>
      <p className="soft">
        Subscribe to this address in your calendar app. Anyone who knows it can see{' '}
        {withNames ? 'your reminders' : 'when your reminders are'}: keep it private.
      </p>
      <Typography.Text copyable className={styles.calendarAddress}>
        {isPublic ? address : window.location.origin + address}
      </Typography.Text>
      <p className={styles.reminderWays}>
        <Button size="small" loading={isLoading} onClick={() => void renew({ isPublic, withNames })}>
          Create a new address
        </Button>
        <Button size="small" onClick={() => void close(null)}>
          Turn off
        </Button>
      </p>
    </>
  );
}

function Open() {
  const [renew, { isLoading }] = useRenewCalendarMutation();
  const [isPublic, setPublic] = useState(false);
  const [withNames, setWithNames] = useState(true);
  return (
    <>
      <Radio.Group
        className={styles.calendarPlaces}
        value={isPublic}
        onChange={({ target }) => {
          setPublic(target.value as boolean);
          // What is reached from everywhere names nobody, unless one wants it to.
          setWithNames(!target.value);
        }}
        options={[
          { value: false, label: 'For calendar apps on this machine, or that reach this page' },
          { value: true, label: 'For your phone and all others, at the public address' },
        ]}
      />
      <Checkbox checked={withNames} onChange={({ target }) => setWithNames(target.checked)}>
        With names, subjects and notes
      </Checkbox>
      <p>
        <Button loading={isLoading} onClick={() => void renew({ isPublic, withNames })}>
          Create a calendar address
        </Button>
      </p>
    </>
  );
}
