import { Button, Tooltip } from 'antd';
import { isQuiet } from '@kiraku/core/notifications';
import { clockWords, HOUR } from '@kiraku/core/time';
import { useNow } from '../app/useNow.js';
import { useNoticesQuery, useQuietMutation } from './noticesApi.js';

/** Quiet for an hour at one press, and loud again at another. */
export function QuietButton() {
  const now = useNow();
  const { data } = useNoticesQuery(null);
  const [quiet] = useQuietMutation();
  if (!data) return null;
  const { quietUntil, quietHours } = data;
  const byPress = quietUntil !== null && now < quietUntil;
  if (!byPress && isQuiet(data, now)) return <span className="soft quiet-hours">Quiet until {quietHours!.to}</span>;
  return byPress ? (
    <Tooltip title="Press to be told again. What came meanwhile is listed then.">
      <Button type="text" onClick={() => void quiet(null)}>
        Quiet until {clockWords(quietUntil)}
      </Button>
    </Tooltip>
  ) : (
    <Tooltip title="Nothing is told for an hour; it is recorded all the same.">
      <Button type="text" onClick={() => void quiet(Date.now() + HOUR)}>
        Quiet, please
      </Button>
    </Tooltip>
  );
}
