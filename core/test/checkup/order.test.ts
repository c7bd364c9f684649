import { worstFirst } from '@kiraku/core/checkup';
import type { CheckName, CheckState, CheckView } from '@kiraku/core/contract';

const check = (name: CheckName, state: CheckState): CheckView => ({
  ...{ name, state, detail: '', advice: null, records: [] },
  ...{ since: 0, at: 0 },
});

test('what does not work comes first, then what needs attention, then all others in their order', () => {
  const checks = [
    check('version', 'ok'),
    check('clock', 'unknown'),
    check('disk', 'attention'),
    check('backup', 'failing'),
    check('spf', 'attention'),
    check('outgoing', 'ok'),
  ];
  expect(worstFirst(checks).map(({ name }) => name)).toEqual([
    ...(['backup', 'spf', 'disk'] as const),
    ...(['outgoing', 'clock', 'version'] as const),
  ]);
});
