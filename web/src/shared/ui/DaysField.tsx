import { Form, InputNumber } from 'antd';

interface DaysFieldProps {
  /** The field of the form; null while it is empty. */
  name: string;
  label: string;
  /** What an empty field means. */
  empty: string;
}

/** A number of days within a sentence of the settings. */
export function DaysField({ name, label, empty }: DaysFieldProps) {
  return (
    <Form.Item name={name} noStyle>
      <InputNumber min={1} max={3650} precision={0} placeholder={empty} aria-label={label} />
    </Form.Item>
  );
}
