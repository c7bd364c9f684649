import { Button, Form, Input } from 'antd';
import { FormProblem } from '../shared/ui/FormProblem.js';

interface WithPassphraseProps {
  /** On the button. */
  label: string;
  isLoading: boolean;
  error: unknown;
  /** What is done once the passphrase is typed. */
  act(passphrase: string): unknown;
}

/** What only the owner may do, also in a browser that was left signed in. */
export function WithPassphrase({ label, isLoading, error, act }: WithPassphraseProps) {
  return (
    <Form layout="vertical" requiredMark={false} onFinish={({ mine }: { mine: string }) => void act(mine)}>
      <Form.Item name="mine" label="Your passphrase, once more" rules={[{ required: true, message: 'Type it.' }]}>
        <Input type="password" autoComplete="current-password" />
      </Form.Item>
      <FormProblem error={error} />
      <Button htmlType="submit" loading={isLoading}>
        {label}
      </Button>
    </Form>
  );
}
