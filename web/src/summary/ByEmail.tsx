import { App, Button, Checkbox, Form, Skeleton, Switch, TimePicker } from 'antd';
import dayjs from 'dayjs';
import type { SummarySettings } from '@kiraku/core/contract';
import { WEEKDAYS } from '@kiraku/core/people';
import { timeFormat } from '@kiraku/core/time';
import {
  useEmailSummaryMutation,
  useSaveSummarySettingsMutation,
  useSummarySettingsQuery,
} from '../shared/api/summaryApi.js';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { fieldPatterns } from '../shared/time/timeFormat.js';
import { MY_ZONE } from '../shared/time/zone.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './summary.module.css';

/** On which days, and when, the summary is emailed. */
export function ByEmail() {
  const { data } = useSummarySettingsQuery(null);
  return (
    <section className={styles.part} aria-labelledby="summary-email">
      <h2 id="summary-email">By email</h2>
      {data ? <Choices stored={data} /> : <Skeleton active title={false} paragraph={{ rows: 3 }} />}
    </section>
  );
}

function Choices({ stored }: { stored: SummarySettings }) {
  const { message } = App.useApp();
  const [save, result] = useSaveSummarySettingsMutation();
  const [email, emailed] = useEmailSummaryMutation();
  const { form, onFinish, undo } = useSettingsForm(stored, (fields) => save({ ...fields, zone: MY_ZONE }));
  const emailNow = async () => {
    if (!(await email(null)).error) void message.success('Summary emailed to you.');
  };
  return (
    <Form form={form} initialValues={stored} onFinish={onFinish}>
      <Form.Item name="weekdays" label="On">
        <Checkbox.Group options={weekdayOptions()} />
      </Form.Item>
      <Form.Item name="time" label="At" extra={`In the time zone ${MY_ZONE}.`}>
        <TimeField />
      </Form.Item>
      <Form.Item name="evenIfEmpty" label="Also when there is nothing to say" valuePropName="checked">
        <Switch size="small" />
      </Form.Item>
      <FormEnd result={result} saved="Saved." primary undo={undo} />
      <p className={settingsStyles.next}>
        <Button loading={emailed.isLoading} onClick={() => void emailNow()}>
          Email it to me now
        </Button>
      </p>
      <FormProblem error={emailed.error} />
    </Form>
  );
}

/** In the order of the user’s week. */
function weekdayOptions() {
  const first = (timeFormat().firstDay + 6) % WEEKDAYS.length;
  return WEEKDAYS.map((_, index) => (index + first) % WEEKDAYS.length).map((value) => ({
    value,
    label: WEEKDAYS[value],
  }));
}

function TimeField({ value, onChange }: { value?: string; onChange?(value: string): void }) {
  const patterns = fieldPatterns();
  return (
    <TimePicker
      aria-label="At"
      format={patterns.time}
      use12Hours={patterns.use12Hours}
      minuteStep={5}
      allowClear={false}
      needConfirm={false}
      value={dayjs(value, 'HH:mm')}
      onChange={(time) => time && onChange?.(dayjs(time).format('HH:mm'))}
    />
  );
}
