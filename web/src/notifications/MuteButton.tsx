import { Button, Tooltip } from 'antd';
import { useMute } from './useMute.js';
import styles from './notifications.module.css';

/** Quiet for an hour at one press, and loud again at another. */
export function MuteButton() {
  const { state, label, toggle } = useMute();
  // Its place is kept until it is known: what stands beside it does not move.
  if (state === 'unknown')
    return (
      <Button type="text" className={styles.unknown} aria-hidden tabIndex={-1}>
        {label}
      </Button>
    );
  if (state === 'quiet-hours') return <span className={`soft ${styles.quietHours}`}>{label}</span>;
  const hint =
    state === 'muted'
      ? 'Press to unmute. What you missed is listed then.'
      : 'No notifications for an hour. Activity is still recorded.';
  return (
    <Tooltip title={hint}>
      <Button type="text" onClick={toggle}>
        {label}
      </Button>
    </Tooltip>
  );
}
