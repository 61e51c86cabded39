import { useMemo } from 'react';
import type { ChartProps } from '../../bench/family';
import { withUnit } from '../../state/words';
import { TimeCurrentField, type Measured } from '../../ui/TimeCurrentField';

/** Times to trip in the time-current field: what counts with its verdict, what was before beside it. */
export function TripTimes({ chart, past }: ChartProps) {
  const at = chart.at ?? 0;
  const measured = useMemo(
    () => [
      ...chart.spots.map((s, i): Measured => ({
        key: `${s.lane}${i}`,
        current: at,
        time: s.value,
        label: `${chart.laneWord} ${s.lane} ${withUnit(s.figure, 's')}${s.voided ? ', voided' : s.counts ? '' : ', as found'}`,
        standing: s.voided ? 'notJudged' : s.verdict,
      })),
      ...past.map((p): Measured => ({
        key: p.key,
        current: at,
        time: p.value,
        label: p.label,
        standing: 'past',
      })),
    ],
    [chart, past, at],
  );
  const curve = useMemo(() => ({ source: chart.source, outline: chart.allowed }), [chart]);
  return (
    <TimeCurrentField
      curve={curve}
      current={at}
      window={null}
      measured={measured}
      live={null}
      lane={`the ${chart.laneWord}`}
    />
  );
}
