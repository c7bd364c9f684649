import { Alert, App, Button, Form, Input, Select, Skeleton, Switch } from 'antd';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { personSentences, personText } from '@kiraku/core/sentences';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { whenWords } from '@kiraku/core/time';
import type { PersonRequest } from '@kiraku/core/contract';
import { problemOf } from '../shared/api/api.js';
import { useNow } from '../shared/hooks/useNow.js';
import {
  useErasePersonMutation,
  usePersonQuery,
  useSavePersonMutation,
  useSetDoNotTrackMutation,
  type PersonSheet,
} from '../shared/api/privacyApi.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { useReadingQuery } from '../shared/api/peopleApi.js';
import { Reading } from './Reading.js';
import { TagsField } from './TagsField.js';
import { changedOf } from './changedOf.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { telOf } from '../shared/ui/telOf.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import pageStyles from '../shared/ui/page.module.css';
import settingsStyles from '../shared/ui/settings.module.css';

const ZONES = [
  { value: '', label: 'Not known' },
  ...Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, label: zone.replaceAll('_', ' ') })),
];

/** One person: what became of all they were sent, who they are, and what is known of them. */
export default function PersonPage() {
  const id = Number(useParams()['id']);
  const { data, error, refetch } = usePersonQuery(id);
  const navigate = useNavigate();
  usePageTitle(data ? personText(data) : '');
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  return (
    <>
      <div className={pageStyles.listHead}>
        <h1>{personText(data)}</h1>
        {data.phone && <Button href={telOf(data.phone)}>Call {data.phone}</Button>}
        <Button onClick={() => void navigate(`/write?${new URLSearchParams({ to: data.address, name: data.name })}`)}>
          Write a message
        </Button>
      </div>
      <p className={pageStyles.sentence}>
        {[data.name && data.address, data.company].filter(Boolean).join(', ')}
        {data.name || data.company ? '. ' : ''}
        <Counts id={id} />
      </p>
      <Reading person={data} />
      <div className={settingsStyles.settings}>
        <section aria-labelledby="person-details">
          <h2 id="person-details">Details</h2>
          <Details person={data} />
        </section>
        <section aria-labelledby="person-tracking">
          <h2 id="person-tracking">Tracking</h2>
          <Tracking person={data} />
        </section>
        <section aria-labelledby="person-data">
          <h2 id="person-data">Data and privacy</h2>
          <Data person={data} />
        </section>
      </div>
    </>
  );
}

/** How much there is of them, when they were last in touch, and what is next; once it is known. */
function Counts({ id }: { id: number }) {
  const now = useNow();
  const { data } = useReadingQuery(id);
  return data && personSentences(data, now);
}

function Details({ person: { id, name, company, phone, zone, note, tags, mutedAt } }: { person: PersonSheet }) {
  const [save, result] = useSavePersonMutation();
  const [before, setBefore] = useState<PersonRequest>({
    name,
    company,
    phone,
    zone,
    note,
    tags,
    muted: mutedAt !== null,
  });
  return (
    <Form<PersonRequest>
      layout="vertical"
      requiredMark={false}
      initialValues={before}
      onFinish={async (details) => {
        const { error } = await save({ id, ...changedOf(details, before) });
        if (!error) setBefore(details);
      }}
    >
      <Form.Item name="name" label="Name">
        <Input maxLength={MESSAGE_LIMITS.maxNameChars} />
      </Form.Item>
      <Form.Item name="company" label="Company">
        <Input maxLength={MESSAGE_LIMITS.maxNameChars} />
      </Form.Item>
      <Form.Item name="phone" label="Phone" extra="Lets you call from Today.">
        <Input type="tel" maxLength={40} />
      </Form.Item>
      <Form.Item name="zone" label="Time zone" extra="Used for the best time to send.">
        <Select options={ZONES} showSearch virtual placeholder="Not known" />
      </Form.Item>
      <Form.Item name="tags" label="Tags" extra="Narrow the list of people by them.">
        <TagsField />
      </Form.Item>
      <Form.Item name="note" label="Private note">
        <Input.TextArea
          autoSize={{ minRows: 2, maxRows: 8 }}
          maxLength={MESSAGE_LIMITS.maxNoteChars}
          placeholder="A private note; it is never sent"
        />
      </Form.Item>
      <ul className={settingsStyles.list}>
        <li>
          <label htmlFor="person-muted">Mute this person: no notifications; activity is still recorded</label>
          <Form.Item name="muted" valuePropName="checked" noStyle>
            <Switch id="person-muted" size="small" />
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
      <ul className={settingsStyles.list}>
        <li>
          <label htmlFor="person-do-not-track">Do not track this person</label>
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
        <p className="soft">They opted out {whenWords(optedOutAt, now)}. Only they can undo that.</p>
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
      title: `Erase everything about ${personText(person)}?`,
      content:
        'Messages to them alone are deleted. From messages to several, their name, address and activity are removed. This cannot be undone. What you wrote about them to others stays.',
      okText: 'Erase',
      cancelText: 'Cancel',
      autoFocusButton: 'cancel',
      onOk: async () => {
        const { error: failed } = await erase(person.id);
        if (!failed) void navigate('/sent');
      },
    });
  return (
    <>
      <p className="soft">If they ask for their data, export it or erase it.</p>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} className={pageStyles.formProblem} />}
      <div className={settingsStyles.buttons}>
        <Button href={`/api/people/${person.id}/data.txt`} download>
          Export as text
        </Button>
        <Button href={`/api/people/${person.id}/data.json`} download>
          Export as JSON
        </Button>
        <Button type="text" loading={isLoading} onClick={confirm}>
          Erase everything
        </Button>
      </div>
    </>
  );
}
