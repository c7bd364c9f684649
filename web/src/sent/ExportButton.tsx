import { Button, Dropdown } from 'antd';
import type { ListView } from '@kiraku/core/sent';
import { queryOf } from './sentApi.js';

const SHEETS = [
  ['messages.csv', 'These messages with their counts, as a sheet (CSV)'],
  ['events.csv', 'Everything that happened to them, as a sheet (CSV)'],
  ['messages.jsonl', 'The messages as JSON lines'],
  ['events.jsonl', 'What happened as JSON lines'],
] as const;

/** Takes away what the list shows. */
export function ExportButton({ view }: { view: ListView }) {
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: SHEETS.map(([file, words]) => ({
          key: file,
          label: (
            <a href={`/api/export/${file}?${queryOf(view)}`} download>
              {words}
            </a>
          ),
        })),
      }}
    >
      <Button aria-haspopup="menu">Take it away</Button>
    </Dropdown>
  );
}
