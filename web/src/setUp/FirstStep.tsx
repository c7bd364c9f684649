import { Button, Form } from 'antd';
import { useLocation } from 'react-router';
import { SenderFields } from '../settings/AccountFields.js';
import { useSetUpMutation } from '../shared/api/sessionApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { Gate } from '../shared/ui/Gate.js';
import { NewPassphrase } from '../shared/ui/NewPassphrase.js';

interface Fields {
  name: string;
  address: string;
  passphrase: string;
}

/** Who one is, and the passphrase: without these nobody signs in. */
export function FirstStep() {
  const [setUp, { isLoading, error }] = useSetUpMutation();
  const code = useLocation().hash.slice(1);
  return (
    <Gate title="Set up Kiraku" words="Some minutes, once. All of it can be changed later.">
      <Form<Fields>
        layout="vertical"
        requiredMark={false}
        onFinish={({ passphrase, ...account }) => void setUp({ code, passphrase, account })}
      >
        <SenderFields />
        <NewPassphrase
          name="passphrase"
          label="Choose a passphrase"
          extra="You sign in with it; three or four words are good."
        />
        <FormProblem error={error} />
        <Button type="primary" size="large" htmlType="submit" loading={isLoading} block>
          Start
        </Button>
      </Form>
    </Gate>
  );
}
