import { DatePicker, Form, InputNumber, Select } from 'antd';
import type { Dayjs } from 'dayjs';
import type { Recurrence } from '@kiraku/core/contract';
import { occurrencesSentence, recurrencePatterns } from '@kiraku/core/sentences';
import { endingRule, occurrences, recurrenceProblem, type RecurrenceEnd } from '@kiraku/core/time';
import { fieldPatterns } from '../shared/time/timeFormat.js';

export interface RepeatValues {
  pattern?: string;
  end?: 'never' | 'count' | 'until';
  count?: number;
  until?: Dayjs;
}

const NEXT_TIMES_SHOWN = 4;

/** The rule that the fields say (RFC 5545); undefined where the message is sent once. */
export function recurrenceFrom({ pattern, end, count, until }: RepeatValues, zone: string): Recurrence | undefined {
  if (!pattern) return undefined;
  return { rule: endingRule(pattern, endOf({ end, count, until })), zone };
}

function endOf({ end, count, until }: RepeatValues): RecurrenceEnd {
  if (end === 'count' && count) return { count };
  return end === 'until' && until ? { untilAt: until.endOf('day').valueOf() } : null;
}

/** Whether a message repeats, and until when, with the next times in words. */
export function RepeatFields({ time, at, zone }: { time: Dayjs; at: number; zone: string }) {
  const form = Form.useFormInstance<RepeatValues>();
  const pattern = Form.useWatch('pattern', form);
  const end = Form.useWatch('end', form);
  const count = Form.useWatch('count', form);
  const until = Form.useWatch('until', form);
  const patterns = recurrencePatterns({ weekday: (time.day() + 6) % 7, day: time.date() });
  const recurrence = recurrenceFrom({ pattern, end, count, until }, zone);
  const times = recurrence && !recurrenceProblem(recurrence) ? occurrences(recurrence, at, NEXT_TIMES_SHOWN) : [];
  return (
    <>
      <Form.Item name="pattern" label="How often" initialValue="">
        <Select options={patterns.map(([value, label]) => ({ value, label }))} />
      </Form.Item>
      {pattern && (
        <>
          <Form.Item name="end" label="Until" initialValue="never">
            <Select
              options={[
                { value: 'never', label: 'I stop it' },
                { value: 'count', label: 'a number of times' },
                { value: 'until', label: 'a date' },
              ]}
            />
          </Form.Item>
          {end === 'count' && (
            <Form.Item name="count" label="How many times" initialValue={3}>
              <InputNumber min={2} max={500} precision={0} />
            </Form.Item>
          )}
          {end === 'until' && (
            <Form.Item name="until" label="The last day" rules={[{ required: true, message: 'Choose a day.' }]}>
              <DatePicker format={fieldPatterns().date} minDate={time} />
            </Form.Item>
          )}
          <p className="soft">{occurrencesSentence(times, times.length < NEXT_TIMES_SHOWN)}</p>
        </>
      )}
    </>
  );
}
