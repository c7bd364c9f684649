import { Button, Checkbox, DatePicker, Form, Input, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { useState } from 'react';
import type { ListView } from '@kiraku/core/sent';
import { personWords } from '@kiraku/core/tracking';
import { useTemplatesQuery } from '../settings/settingsApi.js';
import { useFollowedLinksQuery } from './sentApi.js';
import { usePeopleQuery } from '../write/draftsApi.js';

/* What opens at the words of the list’s sentence that one fills in, loaded when it is first opened. */

interface ChoiceFormProps {
  view: ListView;
  onChange(part: Partial<ListView>): void;
}

export function Who({ view, onChange }: ChoiceFormProps) {
  const [words, setWords] = useState('');
  const { data: people = [] } = usePeopleQuery(words.trim());
  const firms = [...new Set(people.map(({ firm }) => firm).filter(Boolean))];
  return (
    <Form layout="vertical" className="list-more">
      <Form.Item label="One person">
        <Select
          showSearch={{ filterOption: false, onSearch: setWords }}
          allowClear
          placeholder="Anyone"
          value={view.person}
          options={people.map((one) => ({ value: one.id, label: personWords(one) }))}
          onChange={(person: number | undefined) => onChange({ person: person ?? null })}
        />
      </Form.Item>
      <Form.Item label="People of a firm">
        <Select
          showSearch={{ onSearch: setWords }}
          allowClear
          placeholder="Any firm"
          value={view.firm || undefined}
          options={firms.map((firm) => ({ value: firm, label: firm }))}
          onChange={(firm: string | undefined) => onChange({ firm: firm ?? '' })}
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
    <Form layout="vertical" className="list-more">
      <Checkbox checked={view.noted} onChange={(event) => onChange({ noted: event.target.checked })}>
        Only with a note of mine
      </Checkbox>
      <Checkbox checked={view.archived} onChange={(event) => onChange({ archived: event.target.checked })}>
        What was put away, instead of what is at hand
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
      <Form.Item label="With a link followed whose words are">
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
    <div className="list-more">
      <DatePicker.RangePicker
        value={days}
        allowEmpty={[false, true]}
        onChange={(next) => setDays(next ?? [null, null])}
        aria-label="From a day to a day"
      />
      <div className="settings-buttons">
        <Button
          type="primary"
          disabled={!first}
          onClick={() => onChoose(`${first!.format('YYYY-MM-DD')}..${last?.format('YYYY-MM-DD') ?? ''}`)}
        >
          Show these days
        </Button>
        <Button onClick={onCancel}>Leave it</Button>
      </div>
    </div>
  );
}
