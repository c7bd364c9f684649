import { Button, Tooltip } from 'antd';
import { isQuiet } from '@kiraku/core/notifications';
import { clockWords, HOUR } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { useNotificationSettingsQuery, useMuteMutation } from '../shared/api/notificationsApi.js';
import styles from './notifications.module.css';

/** Quiet for an hour at one press, and loud again at another. */
export function MuteButton() {
  const now = useNow();
  const { data } = useNotificationSettingsQuery(null);
  const [mute] = useMuteMutation();
  // Its place is kept until it is known: what stands beside it does not move.
  if (!data)
    return (
      <Button type="text" className={styles.unknown} aria-hidden tabIndex={-1}>
        Mute for 1 hour
      </Button>
    );
  const { mutedUntil, quietHours } = data;
  const byPress = mutedUntil !== null && now < mutedUntil;
  if (!byPress && isQuiet(data, now))
    return <span className={`soft ${styles.quietHours}`}>Muted until {quietHours!.to}</span>;
  return byPress ? (
    <Tooltip title="Press to unmute. What you missed is listed then.">
      <Button type="text" onClick={() => void mute(null)}>
        Muted until {clockWords(mutedUntil)}
      </Button>
    </Tooltip>
  ) : (
    <Tooltip title="No notifications for an hour. Activity is still recorded.">
      <Button type="text" onClick={() => void mute(Date.now() + HOUR)}>
        Mute for 1 hour
      </Button>
    </Tooltip>
  );
}
