import { Button, Form, Input, Skeleton } from 'antd';
import { useState } from 'react';
import type { TemplateView } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import {
  useAddTemplateMutation,
  useRemoveTemplateMutation,
  useRestoreTemplateMutation,
  useSaveTemplateMutation,
  useTemplatesQuery,
} from '../settings/settingsApi.js';
import { FIRST_REMINDER, ReminderFields } from '../followups/ReminderFields.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Nothing } from '../ui/Nothing.js';
import { SwitchLine } from '../ui/SwitchLine.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { useUndo } from '../ui/useUndo.js';
import { Editor } from '../write/Editor.js';
import '../write/write.css';
import './templates.css';

const NEW: TemplateView = { id: 0, name: '', subject: '', html: '', reminder: null, updatedAt: 0 };

/** Letters to begin others from. */
export default function TemplatesPage() {
  usePageTitle('Templates');
  const { data, error, isLoading, refetch } = useTemplatesQuery(null);
  const [chosen, setChosen] = useState<TemplateView | null>(null);
  return (
    <>
      <h1>Templates</h1>
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 4 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {data && (
        <div className="templates">
          <section aria-label="All templates">
            {data.length === 0 ? (
              <Nothing title="No template yet">
                <p>A letter that you write often can be kept, with places for names. Any letter can become one, too.</p>
              </Nothing>
            ) : (
              <p className="page-sentence">{counted(data.length, 'template')}, by name.</p>
            )}
            <ul className="template-choices">
              {data.map((one) => (
                <li key={one.id}>
                  <Button type="link" onClick={() => setChosen(one)} aria-current={one.id === chosen?.id}>
                    {one.name}
                  </Button>
                  <span className="soft">{one.subject}</span>
                </li>
              ))}
            </ul>
            <Button onClick={() => setChosen(NEW)}>Write a template</Button>
          </section>
          {chosen && <TemplateForm key={chosen.id} template={chosen} onDone={() => setChosen(null)} />}
        </div>
      )}
    </>
  );
}

function TemplateForm({ template, onDone }: { template: TemplateView; onDone(): void }) {
  const [html, setHtml] = useState(template.html);
  const [reminder, setReminder] = useState(template.reminder);
  const [add] = useAddTemplateMutation();
  const [save] = useSaveTemplateMutation();
  const takeAway = useTakeAway();
  return (
    <Form
      className="sheet"
      layout="vertical"
      requiredMark={false}
      initialValues={template}
      onFinish={async ({ name, subject = '' }: { name: string; subject?: string }) => {
        const content = { name, subject, html, reminder };
        await (template.id === 0 ? add(content).unwrap() : save({ id: template.id, ...content }).unwrap());
        onDone();
      }}
    >
      <Form.Item name="name" label="Its name" rules={[{ required: true, max: 100, message: 'Give it a name.' }]}>
        <Input autoFocus />
      </Form.Item>
      <Form.Item name="subject" label="Subject">
        <Input maxLength={900} />
      </Form.Item>
      <Editor label="Template" html={html} onChange={setHtml} />
      <p className="soft">
        {
          '{{first name}}, {{name}}, {{firm}} and {{my name}} are filled in when it is used; {{first name|there}} has words for who has none.'
        }
      </p>
      <SwitchLine
        words="Letters that begin with it are to be reminded of"
        checked={reminder !== null}
        onChange={(on) => setReminder(on ? FIRST_REMINDER : null)}
      />
      {reminder && <ReminderFields value={reminder} onChange={setReminder} fromSending />}
      <footer className="write-foot">
        <Button type="primary" htmlType="submit">
          Keep
        </Button>
        <Button onClick={onDone}>Leave as it was</Button>
        {template.id !== 0 && (
          <Button
            type="text"
            className="write-discard"
            onClick={async () => {
              await takeAway(template);
              onDone();
            }}
          >
            Take away
          </Button>
        )}
      </footer>
    </Form>
  );
}

/** Takes a template away, and offers it back for a while. */
function useTakeAway() {
  const [remove] = useRemoveTemplateMutation();
  const [restore] = useRestoreTemplateMutation();
  const tellUndo = useUndo();
  return async ({ id, name }: TemplateView) => {
    await remove(id).unwrap();
    tellUndo({
      key: `template ${id}`,
      title: 'Taken away',
      description: name,
      button: 'Bring it back',
      undo: () => void restore(id),
    });
  };
}
