import { NavLink } from 'react-router';
import { PAGES } from '../shared/pages.js';
import styles from './layout.module.css';

/** At the left of Write, and at its right. */
const LEFT = ['/today', '/sent'];
const RIGHT = ['/people'];
export const ON_PHONE = [...LEFT, ...RIGHT];

/** The menu on a phone, within reach of a thumb. */
export function PhoneNav({ placeOf, more }: { placeOf(path: string): string; more: React.ReactNode }) {
  const links = (paths: string[]) =>
    PAGES.filter(({ path }) => paths.includes(path)).map(({ path, label }) => (
      <NavLink key={path} to={placeOf(path)}>
        {label}
      </NavLink>
    ));
  return (
    <nav aria-label="Pages" className={`${styles.phone} no-print`}>
      {links(LEFT)}
      <NavLink to="/write" className={styles.phoneWrite}>
        Write
      </NavLink>
      {links(RIGHT)}
      {more}
    </nav>
  );
}
