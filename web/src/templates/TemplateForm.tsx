import { AutoComplete, Button, Form, Input } from 'antd';
import { useCallback, useState } from 'react';
import type { TemplateView } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { UploadList } from '../files/UploadList.js';
import { FIRST_REMINDER, ReminderFields } from '../followups/ReminderFields.js';
import {
  useAddTemplateMutation,
  useRemoveTemplateMutation,
  useRestoreTemplateMutation,
  useSaveTemplateMutation,
} from '../shared/api/settingsApi.js';
import { Editor } from '../shared/editor/Editor.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import { AttachButton } from '../write/AttachButton.js';
import { AttachedFiles } from '../write/AttachedFiles.js';
import { useAttaching } from '../write/useAttaching.js';
import formStyles from '../shared/ui/form.module.css';
import pageStyles from '../shared/ui/page.module.css';
import styles from './templates.module.css';

interface TemplateFormProps {
  template: TemplateView;
  folders: readonly string[];
  onDone(): void;
}

/** A template that is written or changed. */
export function TemplateForm({ template, folders, onDone }: TemplateFormProps) {
  const [{ html, files }, setBody] = useState({ html: template.html, files: template.files });
  const change = useCallback<Parameters<typeof useAttaching>[0]>(
    (part) => setBody((now) => ({ ...now, ...(typeof part === 'function' ? part(now) : part) })),
    [],
  );
  const attaching = useAttaching(change);
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
      onFinish={async ({ name, subject = '', folder = '' }: { name: string; subject?: string; folder?: string }) => {
        const content = { name, subject, html, reminder, files, folder };
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
      <div className={styles.attach}>
        <AttachButton
          attached={files.map(({ fileId }) => fileId)}
          onUpload={(file) => void attaching.begin(file)}
          onChoose={attaching.attach}
        />
      </div>
      <Editor label="Template" html={html} onChange={(next) => change({ html: next })} onPlace={attaching.onPlace} />
      <UploadList uploads={attaching.uploads} onTryAgain={attaching.tryAgain} onCancel={attaching.cancel} />
      <AttachedFiles files={files} onTakeOff={attaching.takeOff} />
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
      <Form.Item name="folder" label="Folder">
        <AutoComplete
          options={folders.map((value) => ({ value }))}
          maxLength={MESSAGE_LIMITS.maxFolderChars}
          placeholder="None"
        />
      </Form.Item>
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
