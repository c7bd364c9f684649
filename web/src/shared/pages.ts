/** The pages, in their order: first those in the head, then those under “More”. */
export const PAGES = [
  { path: '/today', label: 'Today', isMain: true },
  { path: '/sent', label: 'Sent', isMain: true },
  { path: '/followups', label: 'Follow-ups', isMain: true },
  { path: '/people', label: 'People', isMain: true },
  { path: '/files', label: 'Files', isMain: true },
  { path: '/reports', label: 'Reports', isMain: true },
  { path: '/summary', label: 'Summary', isMain: false },
  { path: '/drafts', label: 'Drafts', isMain: false },
  { path: '/templates', label: 'Templates', isMain: false },
  { path: '/outbox', label: 'Outbox', isMain: false },
  { path: '/settings', label: 'Settings', isMain: false },
] as const;
