import { Button, Dropdown } from 'antd';
import { Link, useLocation } from 'react-router';
import { useMute } from '../notifications/useMute.js';
import { PAGES } from '../shared/pages.js';
import { ON_PHONE } from './PhoneNav.js';
import styles from './layout.module.css';

interface MoreMenuProps {
  search(): void;
  help(): void;
  /** Then the menu holds all that the head has no place for. */
  isPhone: boolean;
}

/** The pages that one goes to seldom. */
export function MoreMenu({ search, help, isPhone }: MoreMenuProps) {
  const { pathname } = useLocation();
  const mute = useMute();
  const inMenu = PAGES.filter(({ isMain, path }) => (isPhone ? !ON_PHONE.includes(path) : !isMain));
  const current = inMenu.find(({ path }) => pathname.startsWith(path));
  return (
    <Dropdown
      trigger={['click']}
      autoFocus
      // Beside its button, which stays where it is while the page is scrolled.
      getPopupContainer={(button) => button.parentElement!}
      placement={isPhone ? 'topRight' : 'bottomLeft'}
      menu={{
        items: [
          ...(isPhone
            ? [
                { key: 'search', label: 'Search everything', onClick: search },
                { key: 'mute', label: mute.label, disabled: mute.state === 'quiet-hours', onClick: mute.toggle },
              ]
            : []),
          ...inMenu.map(({ path, label }) => ({ key: path, label: <Link to={path}>{label}</Link> })),
          ...(isPhone ? [] : [{ key: 'keys', label: 'Keys', onClick: help }]),
        ],
        selectedKeys: current ? [current.path] : [],
      }}
    >
      <Button
        type="text"
        aria-haspopup="menu"
        aria-current={current ? 'page' : undefined}
        className={isPhone ? styles.phoneMore : styles.more}
      >
        {current && !isPhone ? current.label : 'More'}
      </Button>
    </Dropdown>
  );
}
