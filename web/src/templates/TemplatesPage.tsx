import { Button, Skeleton } from 'antd';
import { useState } from 'react';
import type { TemplateView } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { TemplateForm } from './TemplateForm.js';
import { Folders, foldersOf } from './Folders.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './templates.module.css';

const NEW: TemplateView = {
  id: 0,
  name: '',
  subject: '',
  html: '',
  reminder: null,
  files: [],
  folder: '',
  updatedAt: 0,
};

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
              <p className={pageStyles.sentence}>
                {counted(data.length, 'template')}. While writing, type the name of one to insert it.
              </p>
            )}
            <Folders templates={data} chosen={chosen} onChoose={setChosen} />
            <Button onClick={() => setChosen(NEW)}>New template</Button>
          </section>
          {chosen && (
            <TemplateForm
              key={`${chosen.id} ${chosen.name}`}
              template={chosen}
              folders={foldersOf(data)}
              onDone={() => setChosen(null)}
            />
          )}
        </div>
      )}
    </>
  );
}
