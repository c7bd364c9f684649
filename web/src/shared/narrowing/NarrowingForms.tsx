import { Button, Checkbox, DatePicker, Form, Input, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { useState, type PropsWithChildren } from 'react';
import { ARCHIVED, SENT_WITH } from '@kiraku/core/contract';
import { ARCHIVED_TEXTS, personText, SENT_WITH_TEXTS } from '@kiraku/core/sentences';
import type { ListView } from '@kiraku/core/sent';
import { useRoundsQuery } from '../api/roundsApi.js';
import { useTemplatesQuery } from '../api/settingsApi.js';
import { useFollowedLinksQuery } from '../api/sentApi.js';
import { usePeopleQuery } from '../api/draftsApi.js';
import { fieldPatterns } from '../time/timeFormat.js';
import settingsStyles from '../ui/settings.module.css';
import styles from './narrowing.module.css';

/* What opens at the words of a sentence that one fills in, loaded when it is first opened. */

interface ChoiceFormProps extends PropsWithChildren {
  view: ListView;
  onChange(part: Partial<ListView>): void;
}

export function Who({ view, onChange }: ChoiceFormProps) {
  const [words, setWords] = useState('');
  const { data: people = [] } = usePeopleQuery(words.trim());
  const companies = [...new Set(people.map(({ company }) => company).filter(Boolean))];
  return (
    <Form layout="vertical" className={styles.form}>
      <Form.Item label="One person">
        <Select
          showSearch={{ filterOption: false, onSearch: setWords }}
          allowClear
          placeholder="Anyone"
          value={view.person}
          options={people.map((one) => ({ value: one.id, label: personText(one) }))}
          onChange={(person: number | undefined) => onChange({ person: person ?? null })}
        />
      </Form.Item>
      <Form.Item label="People at a company">
        <Select
          showSearch={{ onSearch: setWords }}
          allowClear
          placeholder="Any company"
          value={view.company || undefined}
          options={companies.map((company) => ({ value: company, label: company }))}
          onChange={(company: string | undefined) => onChange({ company: company ?? '' })}
        />
      </Form.Item>
      <Form.Item label="People at a mail domain">
        <Input
          allowClear
          placeholder="Any, or clinic.example"
          defaultValue={view.domain}
          onPressEnter={(event) => onChange({ domain: event.currentTarget.value.trim() })}
          onBlur={(event) => onChange({ domain: event.currentTarget.value.trim() })}
        />
      </Form.Item>
    </Form>
  );
}

/** @param children what can be chosen besides */
export function More({ view, onChange, children }: ChoiceFormProps) {
  const [words, setWords] = useState('');
  const { data: templates = [] } = useTemplatesQuery(null);
  const { data: rounds = [] } = useRoundsQuery(null);
  const { data: links = [] } = useFollowedLinksQuery(words.trim());
  return (
    <Form layout="vertical" className={styles.form}>
      <Checkbox checked={view.noted} onChange={(event) => onChange({ noted: event.target.checked })}>
        Only with a private note
      </Checkbox>
      <Checkbox checked={view.workingDays} onChange={(event) => onChange({ workingDays: event.target.checked })}>
        Sent on working days
      </Checkbox>
      {children}
      <Form.Item label="From a template">
        <Select
          allowClear
          placeholder="Any, or none"
          value={view.template}
          options={templates.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(template: number | undefined) => onChange({ template: template ?? null })}
        />
      </Form.Item>
      {rounds.length > 0 && (
        <Form.Item label="Of a round">
          <Select
            allowClear
            placeholder="Any, or none"
            value={view.round}
            options={rounds.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(round: number | undefined) => onChange({ round: round ?? null })}
          />
        </Form.Item>
      )}
      <Form.Item label="With a clicked link named">
        <Select
          showSearch={{ filterOption: false, onSearch: setWords }}
          allowClear
          placeholder="Any"
          value={view.link || undefined}
          options={links.map((text) => ({ value: text, label: text }))}
          onChange={(link: string | undefined) => onChange({ link: link ?? '' })}
        />
      </Form.Item>
    </Form>
  );
}

/** Which messages the list is made of at all. */
export function OfAll({ view, onChange }: ChoiceFormProps) {
  return (
    <>
      <Form.Item label="Archive">
        <Select
          value={String(view.archived)}
          options={ARCHIVED.map((value) => ({ value: String(value), label: ARCHIVED_TEXTS[`${value}`] }))}
          onChange={(chosen) => onChange({ archived: ARCHIVED.find((value) => String(value) === chosen)! })}
        />
      </Form.Item>
      <Form.Item label="Sent">
        <Select
          value={view.sentWith}
          options={SENT_WITH.map((value) => ({ value, label: SENT_WITH_TEXTS[value] }))}
          onChange={(sentWith) => onChange({ sentWith })}
        />
      </Form.Item>
    </>
  );
}

export function Days({ onChoose, onCancel }: { onChoose(sent: string): void; onCancel(): void }) {
  const [days, setDays] = useState<[Dayjs | null, Dayjs | null]>([dayjs().subtract(7, 'day'), null]);
  const [first, last] = days;
  return (
    <div className={styles.form}>
      <DatePicker.RangePicker
        format={fieldPatterns().date}
        value={days}
        allowEmpty={[false, true]}
        onChange={(next) => setDays(next ?? [null, null])}
        aria-label="From day to day"
      />
      <div className={settingsStyles.buttons}>
        <Button
          type="primary"
          disabled={!first}
          onClick={() => onChoose(`${first!.format('YYYY-MM-DD')}..${last?.format('YYYY-MM-DD') ?? ''}`)}
        >
          Show these days
        </Button>
        <Button onClick={onCancel}>Cancel</Button>
      </div>
    </div>
  );
}
