import { Button, Dropdown, Form, Input, Modal, Select } from 'antd';
import { useState } from 'react';
import { PLACEHOLDERS } from '@kiraku/core/message';

interface InsertProps {
  /** Names of the columns that came with a sheet. */
  columns: readonly string[];
  insert(text: string): void;
}

const CONDITION = 'condition';

/** Offers what is different for each recipient: to be put where the cursor is. */
export function InsertPlaceholder({ columns, insert }: InsertProps) {
  const [isChoosing, setChoosing] = useState(false);
  const names = [...Object.keys(PLACEHOLDERS), ...columns.filter((name) => !Object.hasOwn(PLACEHOLDERS, name))];
  return (
    <>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            ...names.map((name) => ({ key: name, label: name })),
            { type: 'divider' as const },
            { key: CONDITION, label: 'One text or another …' },
          ],
          onClick: ({ key }) => (key === CONDITION ? setChoosing(true) : insert(`{{${key}}}`)),
        }}
      >
        <Button type="text" size="small" aria-haspopup="menu">
          Insert placeholder
        </Button>
      </Dropdown>
      {isChoosing && <OneOrAnother names={names} insert={insert} close={() => setChoosing(false)} />}
    </>
  );
}

interface Choice {
  name: string;
  then: string;
  otherwise?: string;
}

/** A text for those of whom something is known, and another for all others. */
function OneOrAnother({ names, insert, close }: { names: string[]; insert(text: string): void; close(): void }) {
  const [form] = Form.useForm<Choice>();
  const without = { pattern: /^[^{}|]*$/, message: 'Write it without { } and |.' };
  return (
    <Modal open title="One text or another" okText="Insert" onOk={() => form.submit()} onCancel={close}>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{ name: 'company', then: '', otherwise: '' }}
        onFinish={({ name, then, otherwise = '' }) => {
          insert(`{{if ${name}: ${then} | otherwise: ${otherwise}}}`);
          close();
        }}
      >
        <Form.Item name="name" label="If this is known">
          <Select options={names.map((name) => ({ value: name, label: name }))} />
        </Form.Item>
        <Form.Item
          name="then"
          label="write"
          extra="Its value stands where you write it in single braces, as {company}."
          rules={[{ required: true, message: 'Write what stands there.' }]}
        >
          <Input />
        </Form.Item>
        <Form.Item name="otherwise" label="otherwise write" rules={[without]}>
          <Input />
        </Form.Item>
      </Form>
    </Modal>
  );
}
