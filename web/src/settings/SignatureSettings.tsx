import { Button, Form, Input, Modal } from 'antd';
import { useState } from 'react';
import type { SignatureView } from '@kiraku/core/contract';
import { Editor } from '../shared/editor/Editor.js';
import {
  useAddSignatureMutation,
  useRemoveSignatureMutation,
  useSaveSignatureMutation,
  useSignaturesQuery,
} from '../shared/api/settingsApi.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import settingsStyles from '../shared/ui/settings.module.css';

const NEW: SignatureView = { id: 0, name: '', html: '' };

/** What messages can end with. */
export function SignatureSettings() {
  const { data: signatures = [] } = useSignaturesQuery(null);
  const [remove] = useRemoveSignatureMutation();
  const [add] = useAddSignatureMutation();
  const offerUndo = useUndo();
  const discard = async ({ id, name, html }: SignatureView) => {
    if ((await remove(id)).error) return;
    offerUndo({ key: `signature ${id}`, title: 'Deleted', description: name, undo: () => void add({ name, html }) });
  };
  const [edited, setEdited] = useState<SignatureView | null>(null);
  return (
    <>
      <ul className={settingsStyles.list}>
        {signatures.map((one) => (
          <li key={one.id}>
            <Button type="link" onClick={() => setEdited(one)}>
              {one.name}
            </Button>
            <Button type="text" size="small" onClick={() => void discard(one)} aria-label={`Delete ${one.name}`}>
              Delete
            </Button>
          </li>
        ))}
      </ul>
      <Button onClick={() => setEdited(NEW)}>New signature</Button>
      {edited && <SignatureModal signature={edited} onClose={() => setEdited(null)} />}
    </>
  );
}

function SignatureModal({ signature, onClose }: { signature: SignatureView; onClose(): void }) {
  const [form] = Form.useForm<{ name: string }>();
  const [html, setHtml] = useState(signature.html);
  const [add] = useAddSignatureMutation();
  const [save] = useSaveSignatureMutation();
  return (
    <Modal open title="Signature" okText="Save" onOk={() => form.submit()} onCancel={onClose} width={640}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={signature}
        onFinish={async ({ name }) => {
          await (signature.id === 0 ? add({ name, html }).unwrap() : save({ id: signature.id, name, html }).unwrap());
          onClose();
        }}
      >
        <Form.Item name="name" label="Name" rules={[{ required: true, max: 100, message: 'Give it a name.' }]}>
          <Input autoFocus />
        </Form.Item>
        <Editor label="Signature" html={html} onChange={setHtml} />
      </Form>
    </Modal>
  );
}
