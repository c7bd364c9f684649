import { DatePicker, Form, InputNumber, Select } from 'antd';
import type { Dayjs } from 'dayjs';
import type { Recurrence } from '@kiraku/core/contract';
import { appointmentWords, occurrences, recurrenceProblem } from '@kiraku/core/time';
import { fieldPatterns } from '../ui/timeFormat.js';

export interface RepeatValues {
  pattern?: string;
  end?: 'never' | 'count' | 'until';
  count?: number;
  until?: Dayjs;
}

const DAYS = ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'];
const NEXT_TIMES_SHOWN = 4;

/** Ways to repeat, named after the day that was chosen. */
function patternsFor(time: Dayjs) {
  const weekday = time.format('dddd');
  const day = DAYS[time.day()];
  return [
    { value: '', label: 'Once' },
    { value: 'FREQ=DAILY', label: 'Every day' },
    { value: 'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', label: 'Every working day' },
    { value: `FREQ=WEEKLY;BYDAY=${day}`, label: `Every ${weekday}` },
    { value: `FREQ=WEEKLY;INTERVAL=2;BYDAY=${day}`, label: `Every second ${weekday}` },
    { value: `FREQ=MONTHLY;BYMONTHDAY=${time.date()}`, label: `Monthly, on day ${time.date()}` },
    {
      value: `FREQ=MONTHLY;BYDAY=${Math.ceil(time.date() / 7)}${day}`,
      label: `Monthly, on the ${['first', 'second', 'third', 'fourth', 'fifth'][Math.ceil(time.date() / 7) - 1]} ${weekday}`,
    },
    { value: `FREQ=MONTHLY;BYDAY=-1${day}`, label: `Monthly, on the last ${weekday}` },
    { value: 'FREQ=YEARLY', label: 'Every year' },
  ];
}

/** The rule that the fields say (RFC 5545); undefined where the message leaves once. */
export function recurrenceFrom({ pattern, end, count, until }: RepeatValues, zone: string): Recurrence | undefined {
  if (!pattern) return undefined;
  const last =
    end === 'count' && count
      ? `;COUNT=${count}`
      : end === 'until' && until
        ? `;UNTIL=${until
            .endOf('day')
            .toISOString()
            .replace(/[-:]|\.\d+/g, '')}`
        : '';
  return { rule: pattern + last, zone };
}

/** Whether a message repeats, and until when, with the next times in words. */
export function RepeatFields({ time, at, zone }: { time: Dayjs; at: number; zone: string }) {
  const form = Form.useFormInstance<RepeatValues>();
  const pattern = Form.useWatch('pattern', form);
  const end = Form.useWatch('end', form);
  const count = Form.useWatch('count', form);
  const until = Form.useWatch('until', form);
  const recurrence = recurrenceFrom({ pattern, end, count, until }, zone);
  const times = recurrence && !recurrenceProblem(recurrence) ? occurrences(recurrence, at, NEXT_TIMES_SHOWN) : [];
  return (
    <>
      <Form.Item name="pattern" label="How often" initialValue="">
        <Select options={patternsFor(time)} />
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
          <p className="soft">
            Sent {times.map((one) => appointmentWords(one)).join('; ')}
            {times.length === NEXT_TIMES_SHOWN ? ' …' : '.'}
          </p>
        </>
      )}
    </>
  );
}
