import { Desk, MailServer } from '../harness.js';
import { faultsOf, outgoingCases } from './outgoing.js';
import { sendStory } from './story.js';

let mail: MailServer;
let desk: Desk;

beforeAll(async () => {
  mail = await MailServer.start();
  desk = await Desk.start(mail.port);
  await sendStory(desk);
});
afterAll(async () => {
  await desk.stop();
  await mail.stop();
});

test.each(outgoingCases().map((one) => [`${one.group}/${one.name}`, one] as const))('%s', async (_name, one) => {
  expect(await faultsOf(one, desk, mail)).toEqual([]);
});
