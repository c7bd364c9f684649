import type { ReadingTimes } from '@kiraku/core/contract';
import { WEEKDAYS } from '@kiraku/core/people';
import { busiestSentence, confidenceSentence } from '@kiraku/core/sentences';
import { hourWords, weekHourOf } from '@kiraku/core/time';
import { ChartFrame } from '../shared/ui/ChartFrame.js';
import { HeatMap } from '../shared/ui/HeatMap.js';
import type { Behind } from './behind.js';

interface FirstOpensProps {
  opening: ReadingTimes;
  behind: Behind;
}

/** At which hours of the week messages are first opened. */
export function FirstOpens({ opening, behind }: FirstOpensProps) {
  const linkTo = (weekday: number, hour: number) => behind('sent', { firstOpenHour: weekHourOf(weekday, hour) });
  const rows = opening.readTimes.flatMap((hours, weekday) =>
    hours.flatMap((count, hour) =>
      count === 0
        ? []
        : [[{ value: WEEKDAYS[weekday]! }, { value: hourWords(hour) }, { value: count, to: linkTo(weekday, hour) }]],
    ),
  );
  return (
    <ChartFrame
      title="When messages are first opened"
      fileName="first-opens"
      table={{ columns: ['Day', 'Hour', 'Messages'], rows }}
    >
      <HeatMap times={opening} linkTo={linkTo} />
      <p>
        {busiestSentence(opening)} <span className="soft">{confidenceSentence(opening)}</span>
      </p>
    </ChartFrame>
  );
}
