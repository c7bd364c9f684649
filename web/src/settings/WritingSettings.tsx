import { Form, Input, Select, Skeleton, Switch } from 'antd';
import type { WritingDefaults } from '@kiraku/core/contract';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { useSaveWritingMutation, useSignaturesQuery, useWritingQuery } from '../shared/api/settingsApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

const SWITCHES: [name: keyof WritingDefaults, label: string][] = [
  ['trackOpens', 'Track opens'],
  ['trackClicks', 'Track link clicks'],
  ['requestDsn', 'Request a delivery receipt'],
  ['requestMdn', 'Request a read receipt'],
  ['disclose', 'Tell recipients about tracking'],
];

/** What new messages, and mails from other programs, begin with. Each message can do otherwise. */
export function WritingSettings() {
  const { data } = useWritingQuery(null);
  return data ? <Defaults stored={data} /> : <Skeleton active title={false} />;
}

function Defaults({ stored }: { stored: WritingDefaults }) {
  const { data: signatures = [] } = useSignaturesQuery(null);
  const [save, result] = useSaveWritingMutation();
  const { form, onFinish, undo } = useSettingsForm(stored, (defaults) => save({ ...stored, ...defaults }));
  return (
    <Form<WritingDefaults>
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={stored}
      onFinish={onFinish}
    >
      <ul className={settingsStyles.list}>
        {SWITCHES.map(([name, label]) => (
          <li key={name}>
            <label htmlFor={`writing-${name}`}>{label}</label>
            <Form.Item name={name} valuePropName="checked" noStyle>
              <Switch id={`writing-${name}`} size="small" />
            </Form.Item>
          </li>
        ))}
      </ul>
      <Form.Item name="signatureId" label="Signature">
        <Select
          options={[{ value: null, label: 'None' }, ...signatures.map(({ id, name }) => ({ value: id, label: name }))]}
        />
      </Form.Item>
      <Form.Item
        name="disclosure"
        label="Disclosure line"
        extra="The words in [brackets] link to the opt-out page."
        rules={[{ required: true, min: 10, max: 500, message: 'Write 10 to 500 characters about what you track.' }]}
      >
        <Input.TextArea autoSize={{ minRows: 2, maxRows: 5 }} />
      </Form.Item>
      <FormEnd result={result} saved="Saved. It applies from the next message on." undo={undo} />
    </Form>
  );
}
