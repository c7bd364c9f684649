import { Radio, Select } from 'antd';
import { CLOCKS, DATE_ORDERS, FIRST_DAYS, type TimeFormat } from '@kiraku/core/contract';
import { useSaveTimeFormatMutation, useSessionQuery } from '../shared/api/sessionApi.js';
import { useSavedAtOnce } from '../shared/hooks/useSavedAtOnce.js';
import { BROWSER_FORMAT, usedFormat } from '../shared/time/timeFormat.js';
import settingsStyles from '../shared/ui/settings.module.css';

const CLOCK_LABELS: Record<TimeFormat['clock'], string> = { '24h': '24 hours, 15:30', '12h': '12 hours, 3:30 PM' };
const DATE_LABELS: Record<TimeFormat['dateOrder'], string> = {
  'day-month': '2 Nov 2026',
  'month-day': 'Nov 2, 2026',
  'year-month-day': '2026-11-02',
};
const DAY_LABELS: Record<TimeFormat['firstDay'], string> = { 0: 'Sunday', 1: 'Monday', 6: 'Saturday' };

/** How times and dates are written, here and in emails to the user. */
export function TimeFormatSettings() {
  const { data: session } = useSessionQuery(null);
  const [save] = useSaveTimeFormatMutation();
  const savedAtOnce = useSavedAtOnce('Times and dates', save);
  const format = usedFormat(session?.timeFormat ?? null);
  const choose = (part: Partial<TimeFormat>) => void savedAtOnce({ ...format, ...part, isChosen: true }, format);
  return (
    <>
      <Radio.Group
        value={format.isChosen}
        options={[
          { value: false, label: 'Like this browser' },
          { value: true, label: 'As I choose' },
        ]}
        onChange={(event) =>
          void savedAtOnce(
            { ...(event.target.value ? format : BROWSER_FORMAT), isChosen: event.target.value as boolean },
            format,
          )
        }
      />
      <div className={settingsStyles.sentences}>
        <label>
          Clock{' '}
          <Select
            value={format.clock}
            disabled={!format.isChosen}
            options={CLOCKS.map((value) => ({ value, label: CLOCK_LABELS[value] }))}
            onChange={(clock) => choose({ clock })}
            popupMatchSelectWidth={false}
          />
        </label>
        <label>
          Date{' '}
          <Select
            value={format.dateOrder}
            disabled={!format.isChosen}
            options={DATE_ORDERS.map((value) => ({ value, label: DATE_LABELS[value] }))}
            onChange={(dateOrder) => choose({ dateOrder })}
            popupMatchSelectWidth={false}
          />
        </label>
        <label>
          First day of the week{' '}
          <Select
            value={format.firstDay}
            disabled={!format.isChosen}
            options={FIRST_DAYS.map((value) => ({ value, label: DAY_LABELS[value] }))}
            onChange={(firstDay) => choose({ firstDay })}
            popupMatchSelectWidth={false}
          />
        </label>
      </div>
    </>
  );
}
