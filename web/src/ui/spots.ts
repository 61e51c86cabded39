import type { Standing } from '../state/steps';
import type { Pictured } from './pictured';

/** A place in a picture that has many alike, in pixels of it. */
export interface Spot {
  readonly number: string;
  readonly x: number;
  readonly y: number;
  readonly r: number;
  readonly standing: Standing;
  readonly why: string;
}

/** How much of the picture about a place is shown large, in its radii. */
export const ABOUT = 1.35;
/** The places that a picture tells of; none where it has one thing only. */
export function spotsOf(capture: Pictured): Spot[] {
  const width = Number(capture.facts['width'] ?? 100);
  return Object.entries(capture.facts)
    .filter(([name]) => name.startsWith('#spot '))
    .map(([name, value]) => {
      const [x, y, r, verdict, ...why] = value.split(' ');
      return {
        number: name.slice('#spot '.length),
        x: Number(x) * width,
        y: Number(y) * width,
        r: Number(r) * width,
        standing: (verdict === 'fail' ? 'fail' : verdict === 'pass' ? 'pass' : 'notJudged') as Standing,
        why: why.join(' '),
      };
    })
    .sort((a, b) => Number(a.number) - Number(b.number));
}

/** What of a picture's facts belongs to one place. */
export function ownFacts(capture: Pictured, spot: Spot): Pictured {
  const width = Number(capture.facts['width'] ?? 100);
  const near = (value: string): boolean => {
    const [x, y] = value.split(' ').map((v) => Number(v) * width);
    return Math.hypot((x ?? 0) - spot.x, (y ?? 0) - spot.y) < ABOUT * spot.r * 1.4;
  };
  return {
    ...capture,
    facts: Object.fromEntries(
      Object.entries(capture.facts).flatMap(([name, value]): [string, string][] =>
        name.startsWith(`#ring ${spot.number} `)
          ? [[`#ring ${name.slice(`#ring ${spot.number} `.length)}`, value]]
          : name.startsWith('#box ') && near(value)
            ? [[name, value]]
            : name === 'width' || name === 'height'
              ? [[name, value]]
              : [],
      ),
    ),
  };
}
