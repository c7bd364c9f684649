import { Form, Input } from 'antd';

interface NewPassphraseProps {
  name: string;
  label: string;
  extra: string;
}

/** The field of a passphrase that is chosen. How easy it is to guess is said by the desk. */
export function NewPassphrase({ name, label, extra }: NewPassphraseProps) {
  return (
    <Form.Item
      name={name}
      label={label}
      extra={`At least 8 characters. ${extra}`}
      rules={[{ required: true, min: 8, message: 'It must have at least 8 characters.' }]}
    >
      <Input type="password" autoComplete="new-password" />
    </Form.Item>
  );
}
