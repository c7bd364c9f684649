import { Button, Dropdown, Form, Input, Popover } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { BUILT_IN_VIEWS } from '@kiraku/core/sent';
import {
  addressOf,
  useForgetViewMutation,
  useSavedViewsQuery,
  useSaveViewMutation,
  useSetStartViewMutation,
} from '../shared/api/sentApi.js';

/** Views that were given a name, and the way to keep this one. */
export function SavedViews({ query }: { query: string }) {
  const { data: views = [] } = useSavedViewsQuery(null);
  const [, setParams] = useSearchParams();
  const [naming, setNaming] = useState(false);
  const [forget] = useForgetViewMutation();
  const [setStart] = useSetStartViewMutation();
  const current = views.find((view) => view.query === query);
  const shown = (key: string, name: string, saved: string) => ({ key, label: name, onClick: () => setParams(saved) });
  return (
    <Popover
      open={naming}
      onOpenChange={(open) => !open && setNaming(false)}
      trigger={['click']}
      placement="bottomRight"
      destroyOnHidden
      content={<NameForm query={query} onDone={() => setNaming(false)} />}
    >
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            ...BUILT_IN_VIEWS.map(({ name, view }) => shown(`built-in ${name}`, name, addressOf(view))),
            ...views.map(({ id, name, query: saved }) => shown(`view ${id}`, name, saved)),
            { type: 'divider' as const },
            { key: 'keep', label: 'Save this view …', disabled: query === '', onClick: () => setNaming(true) },
            ...(current
              ? [
                  {
                    key: 'start',
                    label: current.isStart
                      ? `Do not start with “${current.name}”`
                      : `Start Sent with “${current.name}”`,
                    onClick: () => void setStart({ id: current.id, isStart: !current.isStart }),
                  },
                  { key: 'forget', label: `Delete “${current.name}”`, onClick: () => void forget(current.id) },
                ]
              : []),
          ],
        }}
      >
        <Button aria-haspopup="menu">{current?.name ?? 'Saved views'}</Button>
      </Dropdown>
    </Popover>
  );
}

function NameForm({ query, onDone }: { query: string; onDone(): void }) {
  const [save, { isLoading }] = useSaveViewMutation();
  return (
    <Form
      layout="inline"
      onFinish={async ({ name }: { name: string }) => {
        await save({ name, query }).unwrap();
        onDone();
      }}
    >
      <Form.Item name="name" rules={[{ required: true, max: 60, whitespace: true, message: 'Give it a name.' }]}>
        <Input placeholder="Last month’s unopened" aria-label="Name of the view" autoFocus />
      </Form.Item>
      <Button htmlType="submit" type="primary" loading={isLoading}>
        Save
      </Button>
    </Form>
  );
}
