import { Button, Dropdown } from 'antd';
import type { ListView } from '@kiraku/core/sent';
import { queryOf } from '../shared/api/sentApi.js';

const SHEETS = [
  ['messages.csv', 'Messages with their counts (CSV)'],
  ['events.csv', 'Activity (CSV)'],
  ['messages.jsonl', 'Messages (JSON Lines)'],
  ['events.jsonl', 'Activity (JSON Lines)'],
] as const;

/** Exports what the list shows. */
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
      <Button aria-haspopup="menu">Export</Button>
    </Dropdown>
  );
}
