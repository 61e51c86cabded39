import { fraction, linearTicks, type Axis } from '../draw/scale';
import type { Standing } from '../state/steps';
import { Mark } from './Mark';

/** One lane of a field of lanes side by side. */
export interface FieldLane {
  readonly id: string;
  readonly label: string;
  /** Earlier values, oldest first. */
  readonly past: readonly { readonly value: number; readonly year: number; readonly picked: boolean }[];
  readonly value: number | null;
  readonly figure: string | null;
  readonly standing: Standing;
  /** Whether it is the one to be measured next, or being measured. */
  readonly isNext: boolean;
}

interface Props {
  lanes: readonly FieldLane[];
  /** Bounds of the one or the other side, with where the margin begins to be used up. */
  high: number | null;
  marginalHigh: number | null;
  low: number | null;
  marginalLow: number | null;
  limitWords: string | null;
  unit: string;
}

/** Lanes side by side against each other, their limit, and how each came here over the years. */
export function LanesField({ lanes, high, marginalHigh, low, marginalLow, limitWords, unit }: Props) {
  const values = [
    ...lanes.flatMap((p) => [...p.past.map((t) => t.value), ...(p.value === null ? [] : [p.value])]),
    ...[high, low].filter((v): v is number => v !== null),
  ];
  const most = values.length > 0 ? Math.max(...values) : 1;
  const least = values.length > 0 ? Math.min(...values) : 0;
  // Bounds that lie close together, far from nothing, would be a thin line at the top of a field that begins there.
  const narrow = low !== null && high !== null && low > 0.6 * high;
  const axis: Axis = narrow
    ? { from: Math.max(0, least - 0.6 * (most - least)), to: most + 0.6 * (most - least), log: false }
    : { from: 0, to: most * 1.15, log: false };
  const top = (value: number): string => `${((1 - fraction(axis, value)) * 100).toFixed(3)}%`;
  const bottom = (value: number): string => `${(fraction(axis, value) * 100).toFixed(3)}%`;
  return (
    <div
      className="grid h-full min-h-0 grid-cols-[56px_1fr] grid-rows-[1fr_auto] pt-2"
      role="img"
      aria-label={`${lanes.length} lanes side by side, in ${unit}`}
    >
      <div className="relative">
        {linearTicks(axis.from, axis.to, 6).map((tick) => (
          <span key={tick} className="absolute right-2 -translate-y-1/2 text-xs" style={{ top: top(tick) }}>
            {tick}
          </span>
        ))}
        <span className="absolute top-0 left-0 text-xs text-quiet">{unit}</span>
      </div>
      <div className="relative border-b border-ink">
        {linearTicks(axis.from, axis.to, 6).map((tick) => (
          <span key={tick} className="absolute inset-x-0 h-px bg-rule" style={{ top: top(tick) }} />
        ))}
        {high !== null || low !== null ? (
          <>
            <span
              className="absolute inset-x-0 bg-band/60"
              style={{ top: high === null ? 0 : top(high), bottom: low === null ? 0 : bottom(low) }}
            />
            {high !== null && marginalHigh !== null ? (
              <span className="hatched absolute inset-x-0" style={{ top: top(high), bottom: bottom(marginalHigh) }} />
            ) : null}
            {low !== null && marginalLow !== null ? (
              <span className="hatched absolute inset-x-0" style={{ top: top(marginalLow), bottom: bottom(low) }} />
            ) : null}
            {[high, low]
              .filter((v): v is number => v !== null)
              .map((v) => (
                <span key={v} className="absolute inset-x-0 h-[2px] bg-ink" style={{ top: top(v) }} />
              ))}
            <span
              className="halo absolute left-1 -translate-y-full pb-0.5 font-condensed text-[14px]"
              style={{ top: top((narrow ? low : high) ?? low ?? 0) }}
            >
              {limitWords}
            </span>
          </>
        ) : (
          <span className="absolute top-0 left-1 font-condensed text-[14px] text-quiet">{limitWords}</span>
        )}
        <div className="absolute inset-0 flex">
          {lanes.map((lane) => (
            <FieldLaneColumn key={lane.id} lane={lane} axis={axis} unit={unit} top={top} />
          ))}
        </div>
      </div>
      <span />
      <div className="flex">
        {lanes.map((lane) => (
          <span
            key={lane.id}
            className={`flex flex-1 items-center justify-center gap-2 py-2 ${lane.isNext ? 'font-semibold' : ''}`}
          >
            <Mark standing={lane.standing} />
            {lane.label}
          </span>
        ))}
      </div>
    </div>
  );
}

function FieldLaneColumn({
  lane,
  axis,
  unit,
  top,
}: {
  lane: FieldLane;
  axis: Axis;
  unit: string;
  top: (value: number) => string;
}) {
  const steps = lane.past.length;
  const at = (i: number): number => 10 + (i * 55) / Math.max(steps, 1);
  // Beside the limit's words the figure stands below its mark.
  const nearTop = lane.value !== null && fraction(axis, lane.value) > 0.72;
  const line = lane.past
    .map((p, i) => `${at(i)},${(1 - fraction(axis, p.value)) * 100}`)
    .concat(lane.value === null ? [] : [`72,${(1 - fraction(axis, lane.value)) * 100}`]);
  return (
    <div className={`relative flex-1 border-l border-rule first:border-l-0 ${lane.isNext ? 'bg-lake/5' : ''}`}>
      <svg
        className="absolute inset-0 h-full w-full"
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <polyline
          points={line.join(' ')}
          fill="none"
          stroke="var(--quiet)"
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      {lane.past.map((p, i) => (
        <span key={p.year + '-' + String(i)} className="absolute" style={{ left: `${at(i)}%`, top: top(p.value) }}>
          <span
            className={`absolute -translate-x-1/2 -translate-y-1/2 ${p.picked ? 'h-4 w-[3px] bg-ink' : 'h-2.5 w-[2px] bg-quiet'}`}
          />
          {p.picked || i === 0 || i === steps - 1 ? (
            <span
              className={`absolute top-1.5 -translate-x-1/2 font-condensed text-[12px] ${p.picked ? 'font-semibold' : 'text-quiet'}`}
            >
              {p.picked ? `${p.year}: ${Math.round(p.value)}` : p.year}
            </span>
          ) : null}
        </span>
      ))}
      {lane.value !== null ? (
        <span className="absolute left-[72%]" style={{ top: top(lane.value) }}>
          <span className="absolute -translate-x-1/2 -translate-y-1/2">
            <Mark standing={lane.standing} size={20} />
          </span>
          <span
            className={`halo absolute -translate-x-1/2 font-mono ${nearTop ? 'top-3' : 'bottom-3'} text-[22px] leading-tight font-semibold whitespace-nowrap`}
          >
            {lane.figure}
            <span className="ml-1 font-condensed text-[13px] font-normal text-quiet">{unit}</span>
          </span>
        </span>
      ) : null}
    </div>
  );
}
