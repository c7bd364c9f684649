import { isQuiet } from '@kiraku/core/notifications';
import { clockWords, HOUR } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { useMuteMutation, useNotificationSettingsQuery } from '../shared/api/notificationsApi.js';

export interface Mute {
  /** `quiet-hours`: by the times that were set, which end by themselves. */
  state: 'unknown' | 'loud' | 'muted' | 'quiet-hours';
  /** What a press would do, or until when it is quiet. */
  label: string;
  /** Quiet for an hour, and loud again. */
  toggle(): void;
}

/** Whether notifications are muted, and the way to change it. */
export function useMute(): Mute {
  const now = useNow();
  const { data } = useNotificationSettingsQuery(null);
  const [mute] = useMuteMutation();
  const forAnHour = { label: 'Mute for 1 hour', toggle: () => void mute(Date.now() + HOUR) };
  if (!data) return { state: 'unknown', ...forAnHour };
  const { mutedUntil, quietHours } = data;
  if (mutedUntil !== null && now < mutedUntil)
    return { state: 'muted', label: `Muted until ${clockWords(mutedUntil)}`, toggle: () => void mute(null) };
  if (isQuiet(data, now)) return { state: 'quiet-hours', ...forAnHour, label: `Muted until ${quietHours!.to}` };
  return { state: 'loud', ...forAnHour };
}
