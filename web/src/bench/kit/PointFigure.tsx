import type { PointView } from '../../api/types';
import { standingOf } from '../../state/steps';
import { LimitStrip } from '../../ui/LimitStrip';
import { Mark } from '../../ui/Mark';
import { useBench } from '../context';

/** What counts at a point, how it stands, what it was as found, and where it lies between its limits. */
export function PointFigure({ point }: { point: PointView }) {
  const { view } = useBench().ready;
  const standing = standingOf(view, point);
  return (
    <>
      <span className="flex flex-wrap items-center gap-x-2 [&>span]:whitespace-nowrap">
        <Mark standing={standing} />
        <b className="font-mono text-[19px] leading-none font-semibold">{point.counting?.figure ?? ''}</b>
        {point.counting?.also !== undefined ? (
          <span className="font-condensed text-[13px] text-quiet">{point.counting.also}</span>
        ) : null}
        {point.asLeft !== undefined ? (
          <span className="font-condensed text-[13px] text-quiet">as found {point.asFound?.figure}</span>
        ) : null}
        {point.altered ? <span className="font-condensed text-[13px] font-semibold">limit changed</span> : null}
      </span>
      {point.strip !== undefined ? <LimitStrip strip={point.strip} standing={standing} /> : null}
    </>
  );
}
