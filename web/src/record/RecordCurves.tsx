import type { RecordCurve, RecordView } from '../api/types';
import { withUnit } from '../state/words';
import { TraceField } from './TraceField';
import { TimeCurrentField, type Measured } from '../ui/TimeCurrentField';

/**
 * What was measured as curves: points over the curve of the device they were judged by, and the traces captured
 * on the way.
 */
export function RecordCurves({ record }: { record: Pick<RecordView, 'curves' | 'traces'> }) {
  const titles = [...new Set(record.traces.map((t) => `${t.title}: ${t.name.toLowerCase()}`))];
  return (
    <>
      <Curves curves={record.curves} />
      {titles.map((title) => {
        const of = record.traces.filter((t) => `${t.title}: ${t.name.toLowerCase()}` === title);
        return (
          <section key={title} className="mt-6" aria-label={title}>
            <h2 className="mb-1 text-[13px] font-semibold text-quiet">{title}</h2>
            <TraceField blobs={of.map((t) => t.blob)} names={of.map((t) => t.lane)} />
          </section>
        );
      })}
    </>
  );
}

function Curves({ curves }: { curves: readonly RecordCurve[] }) {
  return curves.map((curve) => (
    <section key={curve.step} className="mt-6" aria-label={`${curve.title} over the curve of the device`}>
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">
        {curve.title} over the curve of the device <span className="font-condensed font-normal">{curve.source}</span>
      </h2>
      <div className="h-80">
        <TimeCurrentField
          curve={curve}
          current={curve.at}
          window={null}
          measured={pointsOf(curve)}
          live={null}
          lane={`the ${curve.laneWord}`}
        />
      </div>
    </section>
  ));
}

/** Points as they stand in the field: what counts with its verdict, what was before beside it. */
function pointsOf(curve: RecordCurve): Measured[] {
  return curve.points.map((t, i) => ({
    key: `${t.lane}${i}`,
    current: curve.at,
    time: t.value,
    label: `${curve.laneWord} ${t.lane} ${withUnit(t.figure, 's')}${t.voided ? ', voided' : t.counts ? '' : ', as found'}`,
    standing: t.voided ? 'notJudged' : t.verdict,
  }));
}
