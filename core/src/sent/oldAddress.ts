/** What parts of addresses were called before, for what was bookmarked then. */
const PATHS: Record<string, string> = { '/settings/notices': '/settings/notifications' };

const NAMES: Record<string, Record<string, string>> = {
  '/sent': { order: 'sort', firm: 'company', rising: 'direction' },
  '/reports': { period: 'sent' },
};

const VALUES: Record<string, Record<string, Record<string, string>>> = {
  '/sent': {
    show: {
      unseen: 'no-sign',
      unanswered: 'not-replied',
      answered: 'replied',
      untracked: 'not-tracked',
    },
    sort: { latest: 'lastActivity', wait: 'timeToOpen', answer: 'timeToReply', match: 'relevance' },
    direction: { true: 'asc', false: 'desc' },
  },
  '/reports': { sent: { month: '30-days', quarter: '90-days', year: '365-days', all: '' } },
  '/people': { as: { firms: 'companies' }, order: { firm: 'company' } },
};

/**
 * The address that a page has now, for one of an earlier version; null where it is as it was.
 *
 * @param path without the query
 * @param query with or without “?”
 * @example renewedAddress('/sent', '?show=unanswered&order=latest') // /sent?show=not-replied&sort=lastActivity
 */
export function renewedAddress(path: string, query: string): string | null {
  const renewedPath = PATHS[path] ?? path;
  const entries = [...new URLSearchParams(query)];
  const renewed = entries.map(([name, value]): [string, string] => {
    const newName = NAMES[path]?.[name] ?? name;
    return [newName, VALUES[path]?.[newName]?.[value] ?? value];
  });
  const isSame =
    renewedPath === path &&
    renewed.every(([name, value], index) => {
      const [oldName, oldValue] = entries[index]!;
      return name === oldName && value === oldValue;
    });
  if (isSame) return null;
  const search = new URLSearchParams(renewed).toString();
  return search === '' ? renewedPath : `${renewedPath}?${search}`;
}
