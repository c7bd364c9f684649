import { Checkbox, Form, InputNumber, Skeleton } from 'antd';
import type { FileKind, FilesView } from '@kiraku/core/contract';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { useFilesSettingsQuery, useSaveFilesSettingsMutation } from '../shared/api/filesApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

const MEGABYTE = 1_000_000;
const KINDS: { value: FileKind; label: string }[] = [
  { value: 'pages', label: 'PDF' },
  { value: 'office', label: 'Slides, text documents, sheets' },
  { value: 'picture', label: 'Images' },
  { value: 'video', label: 'Videos' },
  { value: 'audio', label: 'Audio' },
  { value: 'other', label: 'Other files' },
];

interface Fields {
  maxMegabytes: number;
  kinds: FileKind[];
  fromMegabytes: number;
}

/** How large files may be, and what becomes of those that other mail programs attach. */
export default function FilesSettingsPage() {
  usePageTitle('Files');
  const { data } = useFilesSettingsQuery(null);
  return (
    <SettingsFrame>
      {!data && <Skeleton active title={false} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-labelledby="settings-files">
            <h2 id="settings-files">Files</h2>
            <FileLimits stored={data} />
          </section>
          <section aria-labelledby="settings-pages">
            <h2 id="settings-pages">Slides and documents</h2>
            <p>
              {data.converts
                ? 'LibreOffice is installed: slides, text documents and sheets are shown page by page.'
                : 'LibreOffice is not installed. Until it is, slides, text documents and sheets can only be downloaded. On Debian: apt install libreoffice-writer-nogui libreoffice-calc-nogui libreoffice-impress-nogui; then restart Kiraku.'}
            </p>
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}

function FileLimits({ stored }: { stored: FilesView }) {
  const [save, result] = useSaveFilesSettingsMutation();
  const initial: Fields = {
    maxMegabytes: Math.round(stored.maxBytes / MEGABYTE),
    kinds: stored.submitted.kinds,
    fromMegabytes: stored.submitted.fromBytes / MEGABYTE,
  };
  const { form, onFinish, undo } = useSettingsForm(initial, ({ maxMegabytes, kinds, fromMegabytes }) =>
    save({
      maxBytes: maxMegabytes * MEGABYTE,
      submitted: { kinds, fromBytes: Math.round(fromMegabytes * MEGABYTE) },
    }),
  );
  return (
    <Form<Fields> form={form} layout="vertical" requiredMark={false} initialValues={initial} onFinish={onFinish}>
      <div className={settingsStyles.sentences}>
        <label>
          Largest file:{' '}
          <Form.Item name="maxMegabytes" noStyle>
            <InputNumber min={1} max={2000} precision={0} aria-label="Largest file in megabytes" />
          </Form.Item>{' '}
          megabytes.
        </label>
      </div>
      <Form.Item
        name="kinds"
        label="Turn attachments from other mail apps into tracked links, if they are"
        extra="Other attachments stay as they are, and so do those of signed or encrypted messages."
      >
        <Checkbox.Group options={KINDS} className={settingsStyles.choices} />
      </Form.Item>
      <div className={settingsStyles.sentences}>
        <label>
          and are at least{' '}
          <Form.Item name="fromMegabytes" noStyle>
            <InputNumber min={0} max={2000} step={0.5} aria-label="Smallest size in megabytes" />
          </Form.Item>{' '}
          megabytes.
        </label>
      </div>
      <FormEnd result={result} button="Save" saved="Saved. It applies from the next file on." undo={undo} />
    </Form>
  );
}
