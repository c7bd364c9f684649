import { Button, Checkbox, Form, Radio, Skeleton, Switch, TimePicker } from 'antd';
import dayjs from 'dayjs';
import { useState } from 'react';
import { NOTICE_KINDS, NOTICE_WAYS, type NoticeKind, type NoticesView, type NoticeWay } from '@kiraku/core/contract';
import { FormEnd } from '../settings/FormEnd.js';
import '../settings/settings.css';
import { SettingsPages } from '../settings/SettingsPages.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { MY_ZONE } from '../ui/zone.js';
import { useNoticesQuery, useSaveNoticesMutation } from './noticesApi.js';
import { PushDevices } from './PushDevices.js';
import { playSound } from './sound.js';
import { askSystem, systemState, type SystemState } from './system.js';
import './notices.css';

const KINDS: Record<NoticeKind, string> = {
  opened_first: 'Opened for the first time',
  opened_again: 'Opened again, after half an hour or more',
  heating_up: 'Opened three times within the hour',
  came_back: 'Opened after two weeks of silence',
  clicked: 'A link is followed',
  file_viewed: 'A file is viewed',
  answered: 'Somebody answers',
  reminder_due: 'A reminder is due',
  bounced: 'Could not be delivered',
  opted_out: 'Somebody asks not to be tracked',
};
const WAYS: Record<NoticeWay, string> = {
  page: 'In the page',
  system: 'By the system',
  sound: 'By a sound',
  mail: 'By mail to me',
};
const LENGTHS = [
  { value: false, label: 'go by themselves' },
  { value: true, label: 'stay until I put them away' },
];
const NIGHT = { from: '20:00', to: '07:30' };

/** What is told, how, and when not. */
export default function NoticesPage() {
  usePageTitle('Notices');
  const { data, error, refetch } = useNoticesQuery(null);
  return (
    <>
      <h1>Settings</h1>
      <SettingsPages />
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {data && (
        <div className="settings">
          <section aria-label="What is told">
            <Choices data={data} />
          </section>
          <section aria-label="Where it is told">
            <h2>Behind other windows</h2>
            <ThisBrowser />
            <h2 className="settings-next">When no window is open</h2>
            <PushDevices />
          </section>
        </div>
      )}
    </>
  );
}

function Choices({ data }: { data: NoticesView }) {
  const [save, result] = useSaveNoticesMutation();
  const [form] = Form.useForm<NoticesView>();
  const quietHours = Form.useWatch('quietHours', form) ?? null;
  const { quietUntil: _quietUntil, ...initial } = data;
  return (
    <Form
      form={form}
      initialValues={initial}
      onFinish={(view: NoticesView) => void save({ ...view, quietHours: view.quietHours ?? null, zone: MY_ZONE })}
    >
      <h2>What is told, and how</h2>
      <Form.Item name="rings">
        <RingsTable />
      </Form.Item>
      <p className="soft">
        By mail goes what nobody saw here within a minute. What was set aside, and what you silenced, is never told.
      </p>
      <Form.Item name="stay" label="Notices in the page">
        <Radio.Group options={LENGTHS} />
      </Form.Item>
      <h2 className="settings-next">When it is quiet</h2>
      <ul className="settings-list">
        <li>
          <label htmlFor="quiet-hours">Tell me nothing at night</label>
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
      <FormEnd result={result} saved="Saved." primary />
    </Form>
  );
}

type Rings = NoticesView['rings'];

function RingsTable({ value, onChange }: { value?: Rings; onChange?(value: Rings): void }) {
  if (!value) return null;
  const set = (kind: NoticeKind, way: NoticeWay, on: boolean) =>
    onChange?.({ ...value, [kind]: on ? [...value[kind], way] : value[kind].filter((one) => one !== way) });
  return (
    <table className="rings">
      <thead>
        <tr>
          <td />
          {NOTICE_WAYS.map((way) => (
            <th key={way} scope="col">
              {WAYS[way]}
              {way === 'sound' && (
                <Button type="link" size="small" onClick={playSound}>
                  Hear it
                </Button>
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {NOTICE_KINDS.map((kind) => (
          <tr key={kind}>
            <th scope="row">{KINDS[kind]}</th>
            {NOTICE_WAYS.map((way) => (
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

type Hours = NoticesView['quietHours'];

function QuietHoursField({ value, onChange }: { value?: Hours; onChange?(value: Hours): void }) {
  if (!value) return null;
  const field = (part: 'from' | 'to') => (
    <TimePicker
      aria-label={part === 'from' ? 'Quiet from' : 'Quiet until'}
      format="HH:mm"
      minuteStep={5}
      allowClear={false}
      needConfirm={false}
      value={dayjs(value[part], 'HH:mm')}
      onChange={(time) => time && onChange?.({ ...value, [part]: dayjs(time).format('HH:mm') })}
    />
  );
  return (
    <p className="quiet-span">
      From {field('from')} until {field('to')}, by the clocks of {MY_ZONE}.
    </p>
  );
}

const STATES: Record<SystemState, string> = {
  granted: 'This browser’s notices appear also when Kiraku is behind other windows.',
  default: 'Notices can appear also when Kiraku is behind other windows.',
  denied:
    'This browser was told to show no notices of Kiraku. Allow them in what it knows of this site, beside the address. Until then there are the page, the sound and the mail.',
  unsupported:
    'This browser shows notices of the system only for pages that came over TLS, or from this machine. There are the page, the sound and the mail.',
};

function ThisBrowser() {
  const [state, setState] = useState(systemState);
  return (
    <>
      <p className={state === 'denied' ? 'tone-needs-you' : 'soft'} role="status">
        {STATES[state]}
      </p>
      {state === 'default' && (
        <Button onClick={async () => setState(await askSystem())}>Let this browser show them</Button>
      )}
    </>
  );
}
