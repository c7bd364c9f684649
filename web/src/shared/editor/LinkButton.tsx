import { Button, Form, Input, Popover, Tooltip } from 'antd';
import type { Editor } from '@tiptap/react';
import { useState, type ReactNode } from 'react';
import styles from './editor.module.css';

interface LinkFields {
  url: string;
  words: string;
}

/** Makes the selection a link, changes the one at the cursor, or removes it. */
export function LinkButton({ editor, icon }: { editor: Editor; icon: ReactNode }) {
  const [open, setOpen] = useState(false);
  const [form] = Form.useForm<LinkFields>();
  const [isLink, setIsLink] = useState(false);
  const url = Form.useWatch('url', form);

  function show(next: boolean): void {
    if (next) {
      if (editor.isActive('link')) editor.commands.extendMarkRange('link');
      const { from, to } = editor.state.selection;
      const { href } = editor.getAttributes('link') as { href?: string };
      setIsLink(href !== undefined);
      form.setFieldsValue({ url: href ?? '', words: editor.state.doc.textBetween(from, to, ' ') });
    }
    setOpen(next);
  }

  function finish({ url, words }: LinkFields): void {
    const href = absolute(url)!;
    const text = words.trim() || url.trim();
    editor
      .chain()
      .focus()
      .insertContent({ type: 'text', text, marks: [{ type: 'link', attrs: { href } }] })
      .unsetMark('link')
      .run();
    setOpen(false);
  }

  const content = (
    <Form form={form} layout="vertical" onFinish={finish} className={styles.link} requiredMark={false}>
      <Form.Item
        name="url"
        label="Address"
        rules={[
          {
            validator: (_rule, url: string) =>
              absolute(url)
                ? Promise.resolve()
                : Promise.reject(new Error('Write it like https://company.example/page.')),
          },
        ]}
      >
        <Input autoFocus placeholder="https://" />
      </Form.Item>
      <Form.Item name="words" label="Link text">
        <Input />
      </Form.Item>
      <Button type="primary" htmlType="submit">
        {isLink ? 'Change link' : 'Add link'}
      </Button>
      {isLink && absolute(url) && (
        <Button type="text" href={absolute(url)!} target="_blank" rel="noreferrer">
          Open it
        </Button>
      )}
      {isLink && (
        <Button
          type="text"
          onClick={() => {
            editor.chain().focus().unsetLink().run();
            setOpen(false);
          }}
        >
          Remove link
        </Button>
      )}
    </Form>
  );
  return (
    <Popover open={open} onOpenChange={show} trigger="click" content={content} destroyOnHidden placement="bottomLeft">
      <Tooltip title={open ? '' : 'Link'}>
        <Button type="text" size="small" icon={icon} aria-label="Link" />
      </Tooltip>
    </Popover>
  );
}

/** The address as it will be linked; null where it cannot be one. */
function absolute(text: string | undefined): string | null {
  const url = (text ?? '').trim();
  if (url === '') return null;
  const withScheme = /^[a-z][a-z0-9+.-]*:/i.test(url) ? url : `https://${url}`;
  if (!/^(https?|mailto|tel):/i.test(withScheme) || !URL.canParse(withScheme)) return null;
  return withScheme;
}
