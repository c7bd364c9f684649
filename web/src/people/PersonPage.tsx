import { Alert, App, Button, Form, Input, Select, Skeleton, Switch } from 'antd';
import { useNavigate, useParams } from 'react-router';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { counted, whenWords } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';
import { problemOf } from '../app/api.js';
import { useNow } from '../app/useNow.js';
import {
  useErasePersonMutation,
  usePersonQuery,
  useSavePersonMutation,
  useSetDoNotTrackMutation,
  type PersonDetails,
  type PersonSheet,
} from '../privacy/privacyApi.js';
import { FormEnd } from '../settings/FormEnd.js';
import '../settings/settings.css';
import './people.css';
import { useReadingQuery } from './peopleApi.js';
import { Reading } from './Reading.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { telOf } from '../ui/telOf.js';
import { usePageTitle } from '../ui/usePageTitle.js';

const ZONES = [
  { value: '', label: 'Not known' },
  ...Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, label: zone.replaceAll('_', ' ') })),
];

/** One person: what became of all they were sent, who they are, and what is known of them. */
export default function PersonPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = usePersonQuery(id);
  const navigate = useNavigate();
  usePageTitle(data ? personWords(data) : '');
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  return (
    <>
      <div className="list-head">
        <h1>{personWords(data)}</h1>
        {data.phone && <Button href={telOf(data.phone)}>Call {data.phone}</Button>}
        <Button onClick={() => void navigate(`/write?${new URLSearchParams({ to: data.address, name: data.name })}`)}>
          Write to them
        </Button>
      </div>
      <p className="page-sentence">
        {[data.name && data.address, data.firm].filter(Boolean).join(', ')}
        {data.name || data.firm ? '. ' : ''}
        <Counts id={id} />
      </p>
      <Reading person={data} />
      <div className="settings">
        <section aria-labelledby="person-details">
          <h2 id="person-details">Who they are</h2>
          <Details person={data} />
        </section>
        <section aria-labelledby="person-tracking">
          <h2 id="person-tracking">Tracking</h2>
          <Tracking person={data} />
        </section>
        <section aria-labelledby="person-data">
          <h2 id="person-data">What is known of them</h2>
          <Data person={data} />
        </section>
      </div>
    </>
  );
}

/** How much there is of them, once it is known. */
function Counts({ id }: { id: number }) {
  const { data } = useReadingQuery(id);
  return data && `${counted(data.messagesTotal, 'letter')}, ${counted(data.eventsTotal, 'happening')}.`;
}

function Details({ person: { id, name, firm, phone, zone, note, silencedAt } }: { person: PersonSheet }) {
  const [save, result] = useSavePersonMutation();
  return (
    <Form<PersonDetails>
      layout="vertical"
      requiredMark={false}
      initialValues={{ name, firm, phone, zone, note, silenced: silencedAt !== null }}
      onFinish={(details) => void save({ id, ...details })}
    >
      <Form.Item name="name" label="Name">
        <Input maxLength={MESSAGE_LIMITS.nameLength} />
      </Form.Item>
      <Form.Item name="firm" label="Firm">
        <Input maxLength={MESSAGE_LIMITS.nameLength} />
      </Form.Item>
      <Form.Item name="phone" label="Phone" extra="Called from Today in one press.">
        <Input type="tel" maxLength={40} />
      </Form.Item>
      <Form.Item name="zone" label="Time zone" extra="By its clocks their hours of reading are told.">
        <Select options={ZONES} showSearch virtual placeholder="Not known" />
      </Form.Item>
      <Form.Item name="note" label="For yourself">
        <Input.TextArea
          autoSize={{ minRows: 2, maxRows: 8 }}
          maxLength={MESSAGE_LIMITS.noteLength}
          placeholder="A note that is never sent"
        />
      </Form.Item>
      <ul className="settings-list">
        <li>
          <label htmlFor="person-silenced">Tell me nothing of what they do; it is still recorded</label>
          <Form.Item name="silenced" valuePropName="checked" noStyle>
            <Switch id="person-silenced" size="small" />
          </Form.Item>
        </li>
      </ul>
      <FormEnd result={result} saved="Saved." primary />
    </Form>
  );
}

function Tracking({ person: { id, doNotTrack, optedOutAt } }: { person: PersonSheet }) {
  const now = useNow();
  const [setDoNotTrack, { isLoading }] = useSetDoNotTrackMutation();
  return (
    <>
      <ul className="settings-list">
        <li>
          <label htmlFor="person-do-not-track">Write to them without any tracking</label>
          <Switch
            id="person-do-not-track"
            size="small"
            checked={doNotTrack}
            loading={isLoading}
            disabled={optedOutAt !== null}
            onChange={(next) => void setDoNotTrack({ id, doNotTrack: next })}
          />
        </li>
      </ul>
      {optedOutAt !== null && (
        <p className="soft">They declined {whenWords(optedOutAt, now)}. Only they can take that back.</p>
      )}
    </>
  );
}

function Data({ person }: { person: PersonSheet }) {
  const { modal } = App.useApp();
  const navigate = useNavigate();
  const [erase, { isLoading, error }] = useErasePersonMutation();
  const confirm = () =>
    modal.confirm({
      title: `Erase everything about ${personWords(person)}?`,
      content:
        'Letters to them alone are deleted; from letters to several, their name, their address and everything that they did. It cannot be brought back. What you wrote about them in letters to others stays.',
      okText: 'Erase',
      cancelText: 'Keep',
      autoFocusButton: 'cancel',
      onOk: async () => {
        const { error: failed } = await erase(person.id);
        if (!failed) void navigate('/sent');
      },
    });
  return (
    <>
      <p className="soft">Hand it out when they ask for it, or erase it.</p>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} className="form-problem" />}
      <div className="settings-buttons">
        <Button href={`/api/people/${person.id}/data.txt`} download>
          Save it to read
        </Button>
        <Button href={`/api/people/${person.id}/data.json`} download>
          Save it as JSON
        </Button>
        <Button type="text" loading={isLoading} onClick={confirm}>
          Erase it all
        </Button>
      </div>
    </>
  );
}
