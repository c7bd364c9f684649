import { NavLink } from 'react-router';
import styles from './settings.module.css';

/** The pages of the settings. */
export function SettingsPages() {
  return (
    <nav className={styles.pages} aria-label="Settings">
      <NavLink to="/settings" end>
        Writing and sending
      </NavLink>
      <NavLink to="/settings/mailbox">Replies and receipts</NavLink>
      <NavLink to="/settings/notifications">Notifications</NavLink>
      <NavLink to="/settings/counting">What counts</NavLink>
      <NavLink to="/settings/files">Files</NavLink>
      <NavLink to="/settings/sign-in">Sign-in</NavLink>
    </nav>
  );
}
