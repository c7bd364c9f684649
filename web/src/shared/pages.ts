/** The pages, in their order: first those in the head, then those under “More”; and the key of each. */
export const PAGES = [
  { path: '/today', label: 'Today', key: '1', isMain: true },
  { path: '/sent', label: 'Sent', key: '2', isMain: true },
  { path: '/followups', label: 'Follow-ups', key: '3', isMain: true },
  { path: '/people', label: 'People', key: '4', isMain: true },
  { path: '/files', label: 'Files', key: '5', isMain: true },
  { path: '/reports', label: 'Reports', key: '6', isMain: true },
  { path: '/summary', label: 'Summary', key: 'M', isMain: false },
  { path: '/rounds', label: 'Rounds', key: 'O', isMain: false },
  { path: '/drafts', label: 'Drafts', key: '7', isMain: false },
  { path: '/templates', label: 'Templates', key: '8', isMain: false },
  { path: '/outbox', label: 'Outbox', key: '9', isMain: false },
  { path: '/settings', label: 'Settings', key: '0', isMain: false },
] as const;
