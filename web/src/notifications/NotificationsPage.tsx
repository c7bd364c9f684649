import { Button, Checkbox, Form, Radio, Skeleton, Switch, TimePicker } from 'antd';
import dayjs from 'dayjs';
import { useState } from 'react';
import {
  NOTIFICATION_KINDS,
  NOTIFICATION_CHANNELS,
  type NotificationKind,
  type NotificationSettingsView,
  type NotificationChannel,
} from '@kiraku/core/contract';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { fieldPatterns } from '../shared/time/timeFormat.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { useNotificationSettingsQuery, useSaveNotificationSettingsMutation } from '../shared/api/notificationsApi.js';
import { PushDevices } from './PushDevices.js';
import { playSound } from './sound.js';
import { askSystem, systemState, type SystemState } from './system.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './notifications.module.css';

const KINDS: Record<NotificationKind, string> = {
  opened_first: 'Opened for the first time',
  opened_again: 'Opened again, after half an hour or more',
  heating_up: 'Opened three times within the hour',
  came_back: 'Opened after two weeks without activity',
  clicked: 'A link is clicked',
  file_viewed: 'A file is viewed',
  replied: 'Somebody replies',
  reminder_due: 'A reminder is due',
  bounced: 'Could not be delivered',
  opted_out: 'Somebody opts out of tracking',
  check_failed: 'Kiraku finds that something does not work',
};
const WAYS: Record<NotificationChannel, string> = {
  page: 'In Kiraku',
  desktop: 'Desktop',
  push: 'Phone',
  sound: 'Sound',
  email: 'Email',
};
const LENGTHS = [
  { value: false, label: 'disappear after a moment' },
  { value: true, label: 'stay until I close them' },
];
const NIGHT = { from: '20:00', to: '07:30' };

/** Which activity notifies, how, and when not. */
export default function NotificationsPage() {
  usePageTitle('Notifications');
  const { data, error, refetch } = useNotificationSettingsQuery(null);
  return (
    <SettingsFrame>
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-label="Notifications">
            <Choices data={data} />
          </section>
          <section aria-label="Devices">
            <h2>Desktop notifications</h2>
            <ThisBrowser />
            <h2 className={settingsStyles.next}>On your phone</h2>
            <PushDevices />
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}

type Choosable = Omit<NotificationSettingsView, 'mutedUntil'>;

function Choices({ data }: { data: NotificationSettingsView }) {
  const [save, result] = useSaveNotificationSettingsMutation();
  const { mutedUntil: _quietUntil, ...initial } = data;
  const { form, onFinish, undo } = useSettingsForm<Choosable>(initial, (view) =>
    save({ ...view, quietHours: view.quietHours ?? null, zone: MY_ZONE }),
  );
  const quietHours = Form.useWatch('quietHours', form) ?? null;
  return (
    <Form form={form} initialValues={initial} onFinish={onFinish}>
      <h2>What to notify me of, and how</h2>
      <Form.Item name="channels">
        <ChannelsTable />
      </Form.Item>
      <p className="soft">
        Email is sent for what you did not see here within a minute. Nothing that is muted or not counted notifies you.
      </p>
      <Form.Item name="stay" label="Notifications in Kiraku">
        <Radio.Group options={LENGTHS} />
      </Form.Item>
      <h2 className={settingsStyles.next}>Quiet hours</h2>
      <ul className={settingsStyles.list}>
        <li>
          <label htmlFor="quiet-hours">No notifications at night</label>
          <Switch
            id="quiet-hours"
            size="small"
            checked={quietHours !== null}
            onChange={(on) => form.setFieldValue('quietHours', on ? NIGHT : null)}
          />
        </li>
      </ul>
      <Form.Item name="quietHours" noStyle>
        <QuietHoursField />
      </Form.Item>
      <FormEnd result={result} saved="Saved." primary undo={undo} />
    </Form>
  );
}

type Channels = NotificationSettingsView['channels'];

function ChannelsTable({ value, onChange }: { value?: Channels; onChange?(value: Channels): void }) {
  if (!value) return null;
  const set = (kind: NotificationKind, way: NotificationChannel, on: boolean) =>
    onChange?.({ ...value, [kind]: on ? [...value[kind], way] : value[kind].filter((one) => one !== way) });
  return (
    <table className={styles.notificationChannels}>
      <thead>
        <tr>
          <td />
          {NOTIFICATION_CHANNELS.map((way) => (
            <th key={way} scope="col">
              {WAYS[way]}
              {way === 'sound' && (
                <Button type="link" size="small" onClick={playSound}>
                  Play
                </Button>
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {NOTIFICATION_KINDS.map((kind) => (
          <tr key={kind}>
            <th scope="row">{KINDS[kind]}</th>
            {NOTIFICATION_CHANNELS.map((way) => (
              <td key={way}>
                <Checkbox
                  aria-label={`${KINDS[kind]}: ${WAYS[way]}`}
                  checked={value[kind].includes(way)}
                  onChange={(event) => set(kind, way, event.target.checked)}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

type Hours = NotificationSettingsView['quietHours'];

function QuietHoursField({ value, onChange }: { value?: Hours; onChange?(value: Hours): void }) {
  if (!value) return null;
  const patterns = fieldPatterns();
  const field = (part: 'from' | 'to') => (
    <TimePicker
      aria-label={part === 'from' ? 'Quiet from' : 'Quiet until'}
      format={patterns.time}
      use12Hours={patterns.use12Hours}
      minuteStep={5}
      allowClear={false}
      needConfirm={false}
      value={dayjs(value[part], 'HH:mm')}
      onChange={(time) => time && onChange?.({ ...value, [part]: dayjs(time).format('HH:mm') })}
    />
  );
  return (
    <p className={styles.quietHours}>
      From {field('from')} until {field('to')}, in the time zone {MY_ZONE}.
    </p>
  );
}

const STATES: Record<SystemState, string> = {
  granted: 'This browser shows notifications, also while Kiraku is in the background.',
  default: 'This browser can show notifications while Kiraku is in the background.',
  denied: 'This browser blocks notifications from Kiraku. Allow them in its settings for this site.',
  unsupported: 'This browser shows notifications only for pages over HTTPS, or from this machine.',
};

function ThisBrowser() {
  const [state, setState] = useState(systemState);
  return (
    <>
      <p className={state === 'denied' ? 'tone-needs-you' : 'soft'} role="status">
        {STATES[state]}
      </p>
      {state === 'default' && (
        <Button onClick={async () => setState(await askSystem())}>Allow desktop notifications</Button>
      )}
    </>
  );
}
