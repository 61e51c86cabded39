import type { RecordCurve, RecordView } from '../api/types';
import { withUnit } from '../state/words';
import { TraceField } from './TraceField';
import { TimeCurrentField, type Measured } from '../ui/TimeCurrentField';

/** What was measured as curves: the trips over the band they were judged by, and the traces captured on the way. */
export function RecordCurves({ record }: { record: Pick<RecordView, 'curves' | 'traces'> }) {
  const titles = [...new Set(record.traces.map((t) => `${t.title}: ${t.name.toLowerCase()}`))];
  return (
    <>
      <Bands curves={record.curves} />
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

function Bands({ curves }: { curves: readonly RecordCurve[] }) {
  return curves.map((curve) => (
    <section key={curve.step} className="mt-6" aria-label={`${curve.title} over the band`}>
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">
        {curve.title} over the band <span className="font-condensed font-normal">{curve.source}</span>
      </h2>
      <div className="h-80">
        <TimeCurrentField
          band={curve}
          current={curve.current}
          window={null}
          measured={tripsOf(curve)}
          live={null}
          pole="the pole"
        />
      </div>
    </section>
  ));
}

/** Trips as they stand in the field: what counts with its verdict, what was before beside it. */
function tripsOf(curve: RecordCurve): Measured[] {
  return curve.trips.map((t, i) => ({
    key: `${t.lane}${i}`,
    current: curve.current,
    time: t.time,
    label: `pole ${t.lane} ${withUnit(t.figure, 's')}${t.voided ? ', voided' : t.counts ? '' : ', as found'}`,
    standing: t.voided ? 'notJudged' : t.verdict,
  }));
}
