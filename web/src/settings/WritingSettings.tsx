import { Form, Input, Select, Skeleton, Switch } from 'antd';
import type { WritingDefaults } from '@kiraku/core/contract';
import { FormEnd } from './FormEnd.js';
import { useSaveWritingMutation, useSignaturesQuery, useWritingQuery } from './settingsApi.js';

const SWITCHES: [name: keyof WritingDefaults, label: string][] = [
  ['trackOpens', 'Know when it is opened'],
  ['trackLinks', 'Know which links are followed'],
  ['deliveryReceipt', 'Ask for a delivery receipt'],
  ['readReceipt', 'Ask for a read receipt'],
  ['disclose', 'Tell them of the tracking'],
];

/** What new letters, and mails from other programs, begin with. Each letter can do otherwise. */
export function WritingSettings() {
  const { data } = useWritingQuery(null);
  const { data: signatures = [] } = useSignaturesQuery(null);
  const [save, result] = useSaveWritingMutation();
  if (!data) return <Skeleton active title={false} />;
  return (
    <Form<WritingDefaults>
      layout="vertical"
      requiredMark={false}
      initialValues={data}
      onFinish={(defaults) => void save({ ...data, ...defaults })}
    >
      <ul className="settings-list">
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
        label="How they are told"
        extra="What stands in [brackets] leads to the page to decline."
        rules={[{ required: true, min: 10, max: 500, message: 'Say in 10 to 500 characters what you are told.' }]}
      >
        <Input.TextArea autoSize={{ minRows: 2, maxRows: 5 }} />
      </Form.Item>
      <FormEnd result={result} saved="Saved. It holds for the next letter." />
    </Form>
  );
}
