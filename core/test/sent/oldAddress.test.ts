import fc from 'fast-check';
import { SHOWN } from '@kiraku/core/contract';
import { DEFAULT_VIEW, entriesOf, renewedAddress, viewFrom } from '@kiraku/core/sent';

test.each([
  ['/settings/notices', '', '/settings/notifications'],
  ['/sent', '?show=unanswered&order=answer&rising=true', '/sent?show=not-replied&sort=timeToReply&direction=asc'],
  ['/sent', 'show=unseen&firm=Quillon&as=table', '/sent?show=no-sign&company=Quillon&as=table'],
  ['/sent', 'order=match&words=order%3Dlatest', '/sent?sort=relevance&words=order%3Dlatest'],
  ['/people', '?as=firms', '/people?as=companies'],
  ['/people', '?order=firm&words=a', '/people?order=company&words=a'],
])('%s%s leads to %s', (path, query, address) => {
  expect(renewedAddress(path, query)).toBe(address);
});

test.each([
  ['/sent', ''],
  ['/sent', '?show=opened&sort=opens'],
  ['/people', '?order=name'],
  ['/followups', '?show=done&order=firm'],
  ['/sent/34', '?order=latest'],
])('%s%s is as it was', (path, query) => {
  expect(renewedAddress(path, query)).toBeNull();
});

test('no address of now is taken for one of before, and a renewed one is renewed once', () => {
  for (const show of SHOWN)
    for (const direction of ['asc', 'desc'] as const) {
      const query = new URLSearchParams(entriesOf({ ...DEFAULT_VIEW, show, direction, sort: 'opens' })).toString();
      expect([query, renewedAddress('/sent', query)]).toEqual([query, null]);
    }
  const name = fc.constantFrom('order', 'firm', 'rising', 'show', 'sort', 'words', 'as');
  const value = fc.constantFrom('latest', 'unseen', 'true', 'false', 'firms', 'x y', 'match');
  fc.assert(
    fc.property(
      fc.constantFrom('/sent', '/people', '/settings/notices'),
      fc.array(fc.tuple(name, value)),
      (path, entries) => {
        const renewed = renewedAddress(path, new URLSearchParams(entries).toString());
        if (renewed === null) return;
        const url = new URL(renewed, 'http://desk.example');
        expect(renewedAddress(url.pathname, url.search)).toBeNull();
        // Nothing of it is lost on the way.
        expect([...url.searchParams]).toHaveLength(entries.length);
        expect(() => viewFrom(url.searchParams)).not.toThrow();
      },
    ),
  );
});
