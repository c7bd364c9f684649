import { App, Button, Dropdown, Form, Input, Modal, type MenuProps } from 'antd';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { DraftContent } from '@kiraku/core/contract';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useAddTemplateMutation, useSignaturesQuery } from '../shared/api/settingsApi.js';
import { useOpenMailMutation } from '../shared/api/draftsApi.js';

interface Props {
  content: DraftContent;
  onChange(part: Partial<DraftContent>): void;
  save(): Promise<{ id: number } | null>;
  discard(): Promise<void>;
}

/** What is needed now and then while writing. */
export function MoreButton({ content, onChange, save, discard }: Props) {
  const { data: signatures = [] } = useSignaturesQuery(null);
  const [naming, setNaming] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const openMail = useOpenMail();

  const items: MenuProps['items'] = [
    ...signatures.map(({ id, name, html }) => ({
      key: `sign ${id}`,
      label: `Use signature “${name}”`,
      onClick: () => onChange({ html: content.html + html }),
    })),
    { key: 'keep', label: 'Save as template …', onClick: () => setNaming(true) },
    {
      key: 'save',
      label: 'Save as .eml file',
      onClick: async () => {
        const draft = await save();
        if (draft) window.location.assign(`/api/drafts/${draft.id}/mail.eml`);
      },
    },
    { key: 'open', label: 'Open an .eml file …', onClick: () => file.current?.click() },
    { type: 'divider' },
    { key: 'discard', label: 'Delete draft', onClick: () => void discard() },
  ];
  return (
    <>
      <Dropdown menu={{ items }} trigger={['click']}>
        <Button size="large">More</Button>
      </Dropdown>
      <input
        ref={file}
        type="file"
        accept=".eml,message/rfc822"
        hidden
        aria-label="Mail file"
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          event.target.value = '';
          if (chosen) void openMail(chosen);
        }}
      />
      <KeepAsTemplate open={naming} content={content} onClose={() => setNaming(false)} />
    </>
  );
}

function KeepAsTemplate({ open, content, onClose }: { open: boolean; content: DraftContent; onClose(): void }) {
  const [form] = Form.useForm<{ name: string }>();
  const [add, { isLoading }] = useAddTemplateMutation();
  const { notification } = App.useApp();
  return (
    <Modal
      open={open}
      title="Save as template"
      okText="Save"
      confirmLoading={isLoading}
      onOk={() => form.submit()}
      onCancel={onClose}
      destroyOnHidden
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{ name: content.subject }}
        onFinish={async ({ name }) => {
          const { subject, html, reminder, files } = content;
          await add({ name, subject, html, reminder, files, folder: '' }).unwrap();
          onClose();
          notification.open({ title: 'Saved as template', description: name, duration: 4, role: 'status' });
        }}
      >
        <Form.Item
          name="name"
          label="Name"
          extra="Placeholders: {{first name}}, {{name}}, {{company}}, {{my name}}. The text after | is used if nothing is known: {{first name|there}}."
          rules={[{ required: true, max: 100, message: 'Give it a name of up to 100 characters.' }]}
        >
          <Input autoFocus />
        </Form.Item>
      </Form>
    </Modal>
  );
}

/** Opens a mail file as a new draft, and says what of it could not come along. */
export function useOpenMail() {
  const [open] = useOpenMailMutation();
  const { notification } = App.useApp();
  const navigate = useNavigate();
  return async (file: File) => {
    try {
      const { draft, leftOut } = await open(file).unwrap();
      void navigate(`/write/${draft.id}`);
      if (leftOut.length > 0)
        notification.open({ title: 'Opened without its files', description: leftOut.join(', '), role: 'status' });
    } catch (error) {
      const { title, detail } = problemOf(error as QueryError);
      notification.open({ title, description: detail, role: 'status' });
    }
  };
}
