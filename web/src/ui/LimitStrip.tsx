import type { ReactNode } from 'react';
import type { Strip } from '../api/types';
import { fraction, type Axis } from '../draw/scale';
import type { Standing } from '../state/steps';
import { Mark } from './Mark';

interface Props {
  strip: Strip;
  standing: Standing;
  /** A value that moves while it is measured, in the strip's unit. */
  live?: number;
  className?: string;
}

const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;

/** The allowed span as [from, to] on the axis; one-sided spans run to the edge. */
function span(strip: Strip, axis: Axis): [number, number] | null {
  if (strip.low === undefined && strip.high === undefined) {
    return null;
  }
  return [
    strip.low === undefined ? 0 : fraction(axis, strip.low),
    strip.high === undefined ? 1 : fraction(axis, strip.high),
  ];
}

function zone(from: number, to: number, className: string, key?: string): ReactNode {
  const left = Math.max(0, from);
  const right = Math.min(1, to);
  return right > left ? (
    <span key={key} className={`absolute ${className}`} style={{ left: percent(left), width: percent(right - left) }} />
  ) : null;
}

/**
 * Our signature: the allowed span, its marginal edge, where earlier values stood (fading with age), the baseline
 * as a flag,
 * and the present value as the shape of its verdict. Drawn from the axis the server gives, as the report is.
 */
export function LimitStrip({ strip, standing, live, className = '' }: Props) {
  const axis: Axis = { from: strip.from, to: strip.to, log: strip.scale === 'logarithmic' };
  const allowed = span(strip, axis);
  const value = live ?? strip.value;
  const at = value === undefined ? null : fraction(axis, value);
  return (
    <div className={`relative h-6 overflow-hidden ${className}`} aria-hidden="true">
      <span className="absolute inset-x-0 top-[13px] h-px bg-rule" />
      {allowed && zone(allowed[0], allowed[1], 'top-[9px] h-[9px] bg-band')}
      {allowed && strip.marginalLow !== undefined && strip.low !== undefined
        ? zone(allowed[0], fraction(axis, strip.marginalLow), 'top-[9px] h-[9px] hatched')
        : null}
      {allowed && strip.marginalHigh !== undefined && strip.high !== undefined
        ? zone(fraction(axis, strip.marginalHigh), allowed[1], 'top-[9px] h-[9px] hatched')
        : null}
      {strip.low !== undefined ? <Limit at={fraction(axis, strip.low)} /> : null}
      {strip.high !== undefined ? <Limit at={fraction(axis, strip.high)} /> : null}
      {strip.past.map((tick, i) => {
        const place = fraction(axis, tick.value);
        const shown = place >= 0 && place <= 1;
        return shown ? (
          <span
            key={`${tick.record}`}
            className="absolute top-[8px] h-[11px] w-[1.5px] bg-ink"
            style={{ left: percent(place), opacity: Math.max(0.25, 0.8 - i * 0.15) }}
          />
        ) : null;
      })}
      {strip.baseline !== undefined ? <Flag at={fraction(axis, strip.baseline)} /> : null}
      {at !== null && Number.isFinite(at) ? <Present at={at} standing={standing} /> : null}
    </div>
  );
}

function Limit({ at }: { at: number }) {
  return at >= 0 && at <= 1 ? (
    <span className="absolute top-[6px] h-[15px] w-[2px] -translate-x-1/2 bg-ink" style={{ left: percent(at) }} />
  ) : null;
}

function Flag({ at }: { at: number }) {
  if (!(at >= 0 && at <= 1)) {
    return null;
  }
  return (
    <svg className="absolute top-0 text-quiet" width="9" height="20" viewBox="0 0 9 20" style={{ left: percent(at) }}>
      <path d="M.75 0v19" stroke="currentColor" strokeWidth="1.5" />
      <path d="M1 .5 8.5 3.2 1 6z" fill="currentColor" />
    </svg>
  );
}

/** The present value; out of range at the end, with an arrow. */
function Present({ at, standing }: { at: number; standing: Standing }) {
  const beyond = at < 0 ? 'left' : at > 1 ? 'right' : null;
  const place = Math.min(1, Math.max(0, at));
  return (
    <span
      className="absolute top-[13.5px] flex -translate-y-1/2 items-center"
      data-beyond={beyond}
      style={
        beyond === 'right'
          ? { right: 0 }
          : beyond === 'left'
            ? { left: 0 }
            : { left: `clamp(0px, calc(${percent(place)} - 7px), calc(100% - 14px))` }
      }
    >
      {beyond === 'left' ? <span className="text-ink">‹</span> : null}
      <Mark standing={standing} silent />
      {beyond === 'right' ? <span className="text-ink">›</span> : null}
    </span>
  );
}
