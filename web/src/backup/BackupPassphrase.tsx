import { Form } from 'antd';
import type { BackupPassphraseRequest } from '@kiraku/core/contract';
import { useChooseBackupPassphraseMutation } from '../shared/api/backupApi.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { NewPassphrase } from '../shared/ui/NewPassphrase.js';

/** What backups are opened with. */
export function BackupPassphrase({ hasPassphrase }: { hasPassphrase: boolean }) {
  const [form] = Form.useForm<BackupPassphraseRequest>();
  const [choose, result] = useChooseBackupPassphraseMutation();
  return (
    <Form<BackupPassphraseRequest>
      form={form}
      layout="vertical"
      requiredMark={false}
      onFinish={async (fields) => {
        if (!(await choose(fields)).error) form.resetFields();
      }}
    >
      {/* For password managers, which file a passphrase under a name. */}
      <input type="text" autoComplete="username" value="Kiraku backups" readOnly hidden />
      <NewPassphrase
        name="passphrase"
        label={hasPassphrase ? 'New passphrase' : 'Passphrase'}
        extra="Keep it where you find it when this machine is gone: without it no backup can be restored."
      />
      {hasPassphrase && <p className="soft">Backups that were made before keep the passphrase that they have.</p>}
      <FormEnd
        result={result}
        saved="Chosen. A backup is being made."
        button={hasPassphrase ? 'Change passphrase' : 'Choose passphrase'}
        primary={!hasPassphrase}
      />
    </Form>
  );
}
