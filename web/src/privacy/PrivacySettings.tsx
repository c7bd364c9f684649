import { Form, Select, Skeleton } from 'antd';
import type { PrivacyView } from '@kiraku/core/contract';
import { DaysField } from '../shared/ui/DaysField.js';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { usePrivacyQuery, useSavePrivacyMutation } from '../shared/api/privacyApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** How long what is known of readers is kept, and whom nothing is to be known of. */
export function PrivacySettings() {
  const { data } = usePrivacyQuery(null);
  return data ? <Fields stored={data} /> : <Skeleton active title={false} />;
}

function Fields({ stored }: { stored: PrivacyView }) {
  const [save, result] = useSavePrivacyMutation();
  const { form, onFinish, undo } = useSettingsForm(stored, save);
  return (
    <Form<PrivacyView> form={form} layout="vertical" requiredMark={false} initialValues={stored} onFinish={onFinish}>
      <div className={settingsStyles.sentences}>
        <label>
          Delete who read (IP address, program, place) after{' '}
          <DaysField name="forgetReadersDays" label="Days until reader details are deleted" empty="never" /> days,
        </label>
        <label>
          and all activity after{' '}
          <DaysField name="forgetEventsDays" label="Days until all activity is deleted" empty="never" /> days. Empty:
          never.
        </label>
      </div>
      <Form.Item
        name="untrackedDomains"
        label="Domains not to track"
        extra="For example clinic.example. For one person, use their own page."
      >
        <Select mode="tags" open={false} suffixIcon={null} tokenSeparators={[' ', ',', ';']} placeholder="None" />
      </Form.Item>
      <FormEnd
        result={result}
        button="Save"
        saved="Saved. What is due is deleted now, and stays deleted."
        undo={undo}
      />
    </Form>
  );
}
