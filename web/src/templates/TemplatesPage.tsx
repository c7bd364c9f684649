import { Button, Form, Input, Skeleton } from 'antd';
import { useState } from 'react';
import type { TemplateRow, TemplateView } from '@kiraku/core/contract';
import { rateOf } from '@kiraku/core/reports';
import { rateSentence, templateUseText } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import {
  useAddTemplateMutation,
  useRemoveTemplateMutation,
  useRestoreTemplateMutation,
  useSaveTemplateMutation,
  useTemplatesQuery,
} from '../shared/api/settingsApi.js';
import { FIRST_REMINDER, ReminderFields } from '../followups/ReminderFields.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import { useNow } from '../shared/hooks/useNow.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { textOf } from '../shared/editor/textOf.js';
import { Editor } from '../shared/editor/Editor.js';
import formStyles from '../shared/ui/form.module.css';
import pageStyles from '../shared/ui/page.module.css';
import styles from './templates.module.css';

const NEW: TemplateView = { id: 0, name: '', subject: '', html: '', reminder: null, updatedAt: 0 };

/** Messages to begin others from. */
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
        <div className={styles.templates}>
          <section aria-label="All templates">
            {data.length === 0 ? (
              <Nothing title="No templates yet">
                <p>Save a message that you write often, with placeholders for names. Any draft can become one too.</p>
              </Nothing>
            ) : (
              <p className={pageStyles.sentence}>{counted(data.length, 'template')}, by name.</p>
            )}
            <ul className={styles.rows}>
              {data.map((one) => (
                <TemplateLine
                  key={one.id}
                  template={one}
                  isChosen={one.id === chosen?.id}
                  onChoose={() => setChosen(one)}
                  onDuplicate={() => setChosen({ ...one, id: 0, name: `${one.name} (copy)` })}
                />
              ))}
            </ul>
            <Button onClick={() => setChosen(NEW)}>New template</Button>
          </section>
          {chosen && (
            <TemplateForm key={`${chosen.id} ${chosen.name}`} template={chosen} onDone={() => setChosen(null)} />
          )}
        </div>
      )}
    </>
  );
}

interface TemplateLineProps {
  template: TemplateRow;
  isChosen: boolean;
  onChoose(): void;
  onDuplicate(): void;
}

/** A template: how it begins, how often it was used, and how often that was replied to. */
function TemplateLine({ template, isChosen, onChoose, onDuplicate }: TemplateLineProps) {
  const now = useNow();
  const { name, subject, html, messages, replied } = template;
  return (
    <li data-row className={styles.row}>
      <Button type="link" onClick={onChoose} aria-current={isChosen}>
        {name}
      </Button>
      <Button type="text" size="small" onClick={onDuplicate} aria-label={`Duplicate ${name}`}>
        Duplicate
      </Button>
      <span className={styles.preview}>{[subject, textOf(html)].filter(Boolean).join(' · ')}</span>
      <span className={`${styles.use} soft`}>
        {templateUseText(template, now)}
        {messages > 0 && `. Replied to: ${rateSentence(rateOf(replied, messages))}`}
      </span>
    </li>
  );
}

function TemplateForm({ template, onDone }: { template: TemplateView; onDone(): void }) {
  const [html, setHtml] = useState(template.html);
  const [reminder, setReminder] = useState(template.reminder);
  const [add] = useAddTemplateMutation();
  const [save] = useSaveTemplateMutation();
  const remove = useDelete();
  return (
    <Form
      className={pageStyles.sheet}
      layout="vertical"
      requiredMark={false}
      initialValues={template}
      onFinish={async ({ name, subject = '' }: { name: string; subject?: string }) => {
        const content = { name, subject, html, reminder };
        await (template.id === 0 ? add(content).unwrap() : save({ id: template.id, ...content }).unwrap());
        onDone();
      }}
    >
      <Form.Item name="name" label="Name" rules={[{ required: true, max: 100, message: 'Give it a name.' }]}>
        <Input autoFocus />
      </Form.Item>
      <Form.Item name="subject" label="Subject">
        <Input maxLength={900} />
      </Form.Item>
      <Editor label="Template" html={html} onChange={setHtml} />
      <p className="soft">
        {
          'Placeholders: {{first name}}, {{name}}, {{company}}, {{my name}}. The text after | is used if nothing is known: {{first name|there}}.'
        }
      </p>
      <SwitchLine
        words="Remind me of messages that start from it"
        checked={reminder !== null}
        onChange={(on) => setReminder(on ? FIRST_REMINDER : null)}
      />
      {reminder && <ReminderFields value={reminder} onChange={setReminder} fromSending />}
      <footer className={formStyles.foot}>
        <Button type="primary" htmlType="submit">
          Save
        </Button>
        <Button onClick={onDone}>Cancel</Button>
        {template.id !== 0 && (
          <Button
            type="text"
            className={formStyles.last}
            onClick={async () => {
              await remove(template);
              onDone();
            }}
          >
            Delete
          </Button>
        )}
      </footer>
    </Form>
  );
}

/** Deletes a template, and offers to restore it for a while. */
function useDelete() {
  const [remove] = useRemoveTemplateMutation();
  const [restore] = useRestoreTemplateMutation();
  const offerUndo = useUndo();
  return async ({ id, name }: TemplateView) => {
    await remove(id).unwrap();
    offerUndo({
      key: `template ${id}`,
      title: 'Deleted',
      description: name,
      button: 'Restore',
      undo: () => void restore(id),
    });
  };
}
