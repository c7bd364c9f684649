import { Form } from 'antd';
import type { AccountRequest } from '@kiraku/core/contract';
import { useSaveAccountMutation, useTryAccountMutation } from '../shared/api/sessionApi.js';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { SenderFields, ServerFields } from './AccountFields.js';

interface AccountSettingsProps {
  account: AccountRequest;
  hasPassword: boolean;
  /** Where it has just been said who sends. */
  isServerOnly?: boolean;
}

/** Who sends, and through which server: tried with a message to oneself, and saved. */
export function AccountSettings({ account, hasPassword, isServerOnly = false }: AccountSettingsProps) {
  const [save, result] = useSaveAccountMutation();
  const [tryOut, trial] = useTryAccountMutation();
  const { form, onFinish, undo } = useSettingsForm(
    account,
    (fields) => save(filled({ ...account, ...fields })),
    'smtpPassword',
  );
  return (
    <Form<AccountRequest>
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={account}
      onFinish={onFinish}
    >
      {!isServerOnly && <SenderFields />}
      <ServerFields hasPassword={hasPassword} />
      <FormEnd
        result={result}
        saved="Saved. It applies from the next message on."
        primary
        undo={undo}
        trial={{
          words: 'Send a test message to myself',
          isLoading: trial.isLoading,
          ...(trial.data && { data: trial.data }),
          run: () => void form.validateFields().then((fields) => tryOut(filled({ ...account, ...fields }))),
        }}
      />
    </Form>
  );
}

/** An empty password field means the stored one. */
function filled({ smtpPassword, ...fields }: AccountRequest): AccountRequest {
  return { ...fields, ...(smtpPassword && { smtpPassword }) };
}
