import { roundSheet } from '@kiraku/core/rounds';

const COLUMNS = { address: 1, name: 0 };

test('each row is somebody, every other column a placeholder', () => {
  expect(
    roundSheet(
      [
        ['Name', 'Email', 'Seats', 'Floor: what {kind}', ''],
        ['Tomas Berane', 'tomas@ostinato.example', ' 40 ', 'stone', 'left out'],
        ['', 'wanda@orchard.example'],
      ],
      COLUMNS,
    ),
  ).toEqual({
    columns: ['Seats', 'Floor what kind'],
    recipients: [
      { name: 'Tomas Berane', address: 'tomas@ostinato.example', cells: ['40', 'stone'] },
      { name: '', address: 'wanda@orchard.example', cells: ['', ''] },
    ],
    problems: [],
  });
});

test('rows that cannot be used are named as a spreadsheet numbers them, and why; blank ones are none', () => {
  const { recipients, problems } = roundSheet(
    [
      ['Name', 'Email'],
      ['Nobody', ''],
      ['Tomas', 'tomas@ostinato.example'],
      ['', ' '],
      ['Wrong', 'tomas at ostinato'],
      ['Twice', 'TOMAS@ostinato.example'],
    ],
    COLUMNS,
  );
  expect(recipients).toHaveLength(1);
  expect(problems.map(({ row }) => row)).toEqual([2, 5, 6]);
  expect(problems[2]!.problem).toMatch(/above already/);
});

test('no more than a round takes, and nothing of an empty sheet', () => {
  const rows = Array.from({ length: 502 }, (_, n) => ['', `p${n}@x.example`]);
  const { recipients, problems } = roundSheet([['Name', 'Email'], ...rows], COLUMNS);
  expect([recipients.length, problems.length]).toEqual([500, 2]);
  expect(roundSheet([], { address: -1, name: -1 })).toEqual({ columns: [], recipients: [], problems: [] });
});
