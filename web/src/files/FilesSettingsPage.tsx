import { Checkbox, Form, InputNumber, Skeleton } from 'antd';
import type { FileKind } from '@kiraku/core/contract';
import { FormEnd } from '../settings/FormEnd.js';
import { SettingsPages } from '../settings/SettingsPages.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { useFilesSettingsQuery, useSaveFilesSettingsMutation } from './filesApi.js';
import '../settings/settings.css';

const MEGABYTE = 1_000_000;
const KINDS: { value: FileKind; label: string }[] = [
  { value: 'pages', label: 'PDF' },
  { value: 'office', label: 'Slides, text documents, sheets' },
  { value: 'picture', label: 'Pictures' },
  { value: 'video', label: 'Films' },
  { value: 'audio', label: 'Recordings' },
  { value: 'other', label: 'Everything else' },
];

interface Fields {
  mostMegabytes: number;
  kinds: FileKind[];
  fromMegabytes: number;
}

/** How large files may be, and what becomes of those that other mail programs attach. */
export default function FilesSettingsPage() {
  usePageTitle('Files');
  const { data } = useFilesSettingsQuery(null);
  const [save, result] = useSaveFilesSettingsMutation();
  return (
    <>
      <h1>Settings</h1>
      <SettingsPages />
      {!data && <Skeleton active title={false} />}
      {data && (
        <div className="settings">
          <section aria-labelledby="settings-files">
            <h2 id="settings-files">Files</h2>
            <Form<Fields>
              layout="vertical"
              requiredMark={false}
              initialValues={{
                mostMegabytes: Math.round(data.mostBytes / MEGABYTE),
                kinds: data.submitted.kinds,
                fromMegabytes: data.submitted.fromBytes / MEGABYTE,
              }}
              onFinish={({ mostMegabytes, kinds, fromMegabytes }) =>
                void save({
                  mostBytes: mostMegabytes * MEGABYTE,
                  submitted: { kinds, fromBytes: Math.round(fromMegabytes * MEGABYTE) },
                })
              }
            >
              <div className="settings-sentences">
                <label>
                  A file may have up to{' '}
                  <Form.Item name="mostMegabytes" noStyle>
                    <InputNumber min={1} max={2000} precision={0} aria-label="Megabytes that a file may have" />
                  </Form.Item>{' '}
                  megabytes.
                </label>
              </div>
              <Form.Item
                name="kinds"
                label="What other mail programs attach becomes a link that tells, if it is one of these"
                extra="All others stay in the mail as they are, and so does everything in a mail that is signed or encrypted."
              >
                <Checkbox.Group options={KINDS} className="settings-choices" />
              </Form.Item>
              <div className="settings-sentences">
                <label>
                  and has at least{' '}
                  <Form.Item name="fromMegabytes" noStyle>
                    <InputNumber min={0} max={2000} step={0.5} aria-label="Megabytes from which it becomes a link" />
                  </Form.Item>{' '}
                  megabytes.
                </label>
              </div>
              <FormEnd result={result} button="Keep it so" saved="Saved. It holds from the next file on." />
            </Form>
          </section>
          <section aria-labelledby="settings-pages">
            <h2 id="settings-pages">Slides and documents</h2>
            <p>
              {data.converts
                ? 'LibreOffice is on this machine: slides, text documents and sheets are turned into pages, and tell which of them are read.'
                : 'LibreOffice is not on this machine. Until it is, slides, text documents and sheets can only be downloaded, which tells when and by whom. On Debian: apt install libreoffice-writer-nogui libreoffice-calc-nogui libreoffice-impress-nogui; then start Kiraku again.'}
            </p>
          </section>
        </div>
      )}
    </>
  );
}
