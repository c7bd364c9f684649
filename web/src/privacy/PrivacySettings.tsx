import { Form, Select, Skeleton } from 'antd';
import type { PrivacyView } from '@kiraku/core/contract';
import { DaysField } from '../settings/DaysField.js';
import { FormEnd } from '../settings/FormEnd.js';
import { usePrivacyQuery, useSavePrivacyMutation } from './privacyApi.js';

/** How long what is known of readers is kept, and whom nothing is to be known of. */
export function PrivacySettings() {
  const { data } = usePrivacyQuery(null);
  const [save, result] = useSavePrivacyMutation();
  if (!data) return <Skeleton active title={false} />;
  return (
    <Form<PrivacyView> layout="vertical" requiredMark={false} initialValues={data} onFinish={(view) => void save(view)}>
      <div className="settings-sentences">
        <label>
          Who looked (address, program, place) is forgotten after{' '}
          <DaysField name="forgetReadersDays" label="Days after which readers are forgotten" empty="never" /> days,
        </label>
        <label>
          and everything that happened after{' '}
          <DaysField name="forgetEventsDays" label="Days after which everything is forgotten" empty="never" /> days.
          Left empty, never.
        </label>
      </div>
      <Form.Item
        name="untrackedDomains"
        label="Domains whose people are written to without tracking"
        extra="Like clinic.example. A single person is found by their name on a message’s page."
      >
        <Select mode="tags" open={false} suffixIcon={null} tokenSeparators={[' ', ',', ';']} placeholder="None" />
      </Form.Item>
      <FormEnd result={result} button="Keep it so" saved="Saved. What is due is forgotten now." />
    </Form>
  );
}
