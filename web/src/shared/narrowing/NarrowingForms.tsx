import { Button, Checkbox, DatePicker, Form, Input, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { useState } from 'react';
import { personText } from '@kiraku/core/sentences';
import type { ListView } from '@kiraku/core/sent';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { useFollowedLinksQuery } from '../shared/api/sentApi.js';
import { usePeopleQuery } from '../shared/api/draftsApi.js';
import { fieldPatterns } from '../shared/time/timeFormat.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './sent.module.css';

/* What opens at the words of the list’s sentence that one fills in, loaded when it is first opened. */

interface ChoiceFormProps {
  view: ListView;
  onChange(part: Partial<ListView>): void;
}

export function Who({ view, onChange }: ChoiceFormProps) {
  const [words, setWords] = useState('');
  const { data: people = [] } = usePeopleQuery(words.trim());
  const companies = [...new Set(people.map(({ company }) => company).filter(Boolean))];
  return (
    <Form layout="vertical" className={styles.listMore}>
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

export function More({ view, onChange }: ChoiceFormProps) {
  const [words, setWords] = useState('');
  const { data: templates = [] } = useTemplatesQuery(null);
  const { data: links = [] } = useFollowedLinksQuery(words.trim());
  return (
    <Form layout="vertical" className={styles.listMore}>
      <Checkbox checked={view.noted} onChange={(event) => onChange({ noted: event.target.checked })}>
        Only with a private note
      </Checkbox>
      <Checkbox checked={view.archived} onChange={(event) => onChange({ archived: event.target.checked })}>
        Archived messages
      </Checkbox>
      <Form.Item label="From a template">
        <Select
          allowClear
          placeholder="Any, or none"
          value={view.template}
          options={templates.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(template: number | undefined) => onChange({ template: template ?? null })}
        />
      </Form.Item>
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

export function Days({ onChoose, onCancel }: { onChoose(sent: string): void; onCancel(): void }) {
  const [days, setDays] = useState<[Dayjs | null, Dayjs | null]>([dayjs().subtract(7, 'day'), null]);
  const [first, last] = days;
  return (
    <div className={styles.listMore}>
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
