import { Button, DatePicker, Form, Popover, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { useState } from 'react';
import { bestSendTimeText } from '@kiraku/core/sentences';
import { appointmentWords, momentOf, tomorrowMorning } from '@kiraku/core/time';
import type { Recurrence } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { useBestSendTimeQuery } from '../shared/api/followupsApi.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { fieldPatterns } from '../shared/time/timeFormat.js';
import { RepeatFields, recurrenceFrom, type RepeatValues } from './RepeatFields.js';
import styles from './write.module.css';

interface LaterFields extends RepeatValues {
  time: Dayjs;
  zone: string;
}

const ZONES = [...new Set([MY_ZONE, ...Intl.supportedValuesOf('timeZone')])].map((zone) => ({
  value: zone,
  label: zone === MY_ZONE ? `My time (${zone})` : zone.replaceAll('_', ' '),
}));

/** Chooses when a message leaves: by the clocks here, or by those of the recipient. */
export function LaterButton({
  label,
  disabled,
  repeats = false,
  personId,
  onChoose,
}: {
  label: string;
  disabled?: boolean;
  /** Whether it can be asked to leave again and again. */
  repeats?: boolean;
  /** Whose best time of reading is offered; undefined where it is nobody’s. */
  personId?: number | undefined;
  onChoose(at: number, recurrence?: Recurrence): void;
}) {
  const [open, setOpen] = useState(false);
  const [form] = Form.useForm<LaterFields>();
  const time = Form.useWatch('time', form);
  const zone = Form.useWatch('zone', form);
  const now = useNow();
  const { data } = useBestSendTimeQuery(personId ?? null, { skip: !open || personId === undefined });
  const best = data?.best;
  const patterns = fieldPatterns();
  const at = time && zone ? momentFrom(time, zone) : null;

  const content = (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      className={styles.later}
      initialValues={{ time: dayjs(tomorrowMorning(now, MY_ZONE)), zone: MY_ZONE }}
      onFinish={(fields) => {
        setOpen(false);
        if (at !== null) onChoose(at, recurrenceFrom(fields, fields.zone));
      }}
    >
      <Form.Item name="time" label="Day and time" rules={[{ required: true, message: 'Choose a day and a time.' }]}>
        <DatePicker
          showTime={{ format: patterns.time, use12Hours: patterns.use12Hours, minuteStep: 5 }}
          format={patterns.both}
          allowClear={false}
          minDate={dayjs()}
        />
      </Form.Item>
      {best && (
        <p className="soft">
          <Button
            type="link"
            size="small"
            className={styles.likely}
            onClick={() => form.setFieldsValue({ time: dayjs(best.at), zone: MY_ZONE })}
          >
            Best time to send: {bestSendTimeText(best)}
          </Button>
          {best.basis}
        </p>
      )}
      <Form.Item name="zone" label="Time zone">
        <Select showSearch options={ZONES} />
      </Form.Item>
      {at !== null && zone !== MY_ZONE && <p className="soft">That is {appointmentWords(at)} here.</p>}
      {repeats && time && zone && at !== null && <RepeatFields time={time} at={at} zone={zone} />}
      <Button type="primary" htmlType="submit" disabled={at === null || at < now}>
        Schedule
      </Button>
    </Form>
  );
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={content} placement="topLeft" destroyOnHidden>
      <Button size="large" disabled={disabled}>
        {label}
      </Button>
    </Popover>
  );
}

/** The field shows the time of no zone in particular: what it reads is meant by the clocks of the one chosen. */
function momentFrom(time: Dayjs, zone: string): number {
  const wall = {
    year: time.year(),
    month: time.month() + 1,
    day: time.date(),
    hour: time.hour(),
    minute: time.minute(),
  };
  return momentOf(wall, zone);
}
