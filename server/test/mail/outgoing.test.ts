import { desk, mail, useDesk } from '../harness.js';
import { faultsOf, outgoingCases } from './outgoing.js';
import { sendStory } from './story.js';

useDesk('all');
beforeAll(async () => {
  await sendStory(desk);
});

test.each(outgoingCases().map((one) => [`${one.group}/${one.name}`, one] as const))('%s', async (_name, one) => {
  expect(await faultsOf(one, desk, mail)).toEqual([]);
});
