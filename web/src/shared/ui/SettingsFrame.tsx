import { useEffect, type ReactNode } from 'react';
import { NavLink, useLocation } from 'react-router';
import styles from './settings.module.css';

/** The pages of the settings, and the sections of those that have many. Sections are named by the id of their heading. */
const PAGES = [
  {
    path: '/settings',
    label: 'Writing and sending',
    sections: [
      ['settings-account', 'Sender and outgoing mail'],
      ['settings-writing', 'New messages'],
      ['settings-signatures', 'Signatures'],
      ['settings-sending', 'Sending'],
      ['settings-programs', 'Other mail apps'],
      ['settings-dkim', 'Signing your mail (DKIM)'],
      ['settings-light', 'Appearance'],
      ['settings-times', 'Times and dates'],
      ['settings-browser', 'This browser'],
    ],
  },
  { path: '/settings/mailbox', label: 'Replies and receipts', sections: [] },
  { path: '/settings/notifications', label: 'Notifications', sections: [] },
  { path: '/settings/counting', label: 'What counts', sections: [] },
  { path: '/settings/files', label: 'Files', sections: [] },
  {
    path: '/settings/check-up',
    label: 'Check-up',
    sections: [
      ['settings-checkup', 'Check-up'],
      ['settings-running', 'How Kiraku runs'],
    ],
  },
  { path: '/settings/earlier-mail', label: 'Earlier mail', sections: [] },
  { path: '/settings/backups', label: 'Backups', sections: [] },
  { path: '/settings/sign-in', label: 'Sign-in', sections: [] },
] as const;

/** A page of the settings: its sections in one column, and a list of all at the side. */
export function SettingsFrame({ children }: { children: ReactNode }) {
  const { pathname, hash } = useLocation();
  useEffect(() => {
    if (hash) document.getElementById(hash.slice(1))?.scrollIntoView();
  }, [hash]);
  return (
    <>
      <h1>Settings</h1>
      <div className={styles.frame}>
        <nav className={styles.pages} aria-label="Settings">
          {PAGES.map(({ path, label, sections }) => (
            <div key={path}>
              <NavLink to={path} end>
                {label}
              </NavLink>
              {pathname === path && sections.length > 0 && (
                <ul>
                  {sections.map(([id, name]) => (
                    <li key={id}>
                      <a href={`#${id}`}>{name}</a>
                    </li>
                  ))}
                </ul>
              )}
            </div>
          ))}
        </nav>
        <div>{children}</div>
      </div>
    </>
  );
}
